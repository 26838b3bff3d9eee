package board

import (
	"cmp"
	"slices"
)

// lay finds places for what is so wide and so high in a grid of so many columns, in order, each at the first free place that is
// not before the row in which the one before it begins.
type lay struct {
	columns int
	taken   []Place
	row     int // where the search begins
}

func (l *lay) put(width, height int) Place {
	width = min(width, l.columns)
	for row := l.row; ; row++ {
		for column := 0; column+width <= l.columns; column++ {
			p := Place{Column: column, Row: row, Width: width, Height: height}
			if !slices.ContainsFunc(l.taken, p.over) {
				l.taken = append(l.taken, p)
				l.row = row
				return p
			}
		}
	}
}

// below continues under all that lies already.
func (l *lay) below() {
	for _, p := range l.taken {
		l.row = max(l.row, p.Row+p.Height)
	}
}

// Read returns the controls in the order in which they are read: by rows, and in a row from the left.
func Read(controls []Control) []*Control {
	order := make([]*Control, len(controls))
	for i := range controls {
		order[i] = &controls[i]
	}
	slices.SortStableFunc(order, func(a, b *Control) int {
		return cmp.Or(cmp.Compare(a.Row, b.Row), cmp.Compare(a.Column, b.Column))
	})
	return order
}

// Tall returns where each control lies on a tall screen, by its id: where that was chosen, and else, below those, as proposed: in the
// order of the wide screen, the narrower ones two side by side.
func (d *Dashboard) Tall() map[string]Place {
	places := make(map[string]Place, len(d.Controls))
	l := lay{columns: TallColumns}
	for i := range d.Controls {
		if c := &d.Controls[i]; c.Tall != nil {
			places[c.ID] = *c.Tall
			l.taken = append(l.taken, *c.Tall)
		}
	}
	l.below()
	for _, c := range Read(d.Controls) {
		if c.Tall == nil {
			width, height := tallWidth(c.Width), c.Height
			if width < TallColumns && c.Width >= Columns/3 && height > 2 {
				height++ // a name and its figure stand one below the other in what is so much narrower
			}
			places[c.ID] = l.put(width, height)
		}
	}
	return places
}

// tallWidth is how many of twelve columns what is so wide of 24 takes on a tall screen.
func tallWidth(width int) int {
	switch {
	case width <= Columns/6:
		return TallColumns / 3
	case width < Columns/2:
		return TallColumns / 2
	default:
		return TallColumns
	}
}
