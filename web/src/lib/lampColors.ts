/** Colors of light that a lamp is often set to, from candle to plum: real colors, not those of the interface. */
export const lampColors = [
  { title: 'Candle', swatch: '#ffb566' },
  { title: 'Amber', swatch: '#ff9a2e' },
  { title: 'Rose', swatch: '#ff6f7d' },
  { title: 'Plum', swatch: '#b46bff' },
  { title: 'Blue', swatch: '#4f7dff' },
  { title: 'Water', swatch: '#3fd0d8' },
  { title: 'Leaf', swatch: '#66d96e' },
]
