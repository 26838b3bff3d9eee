/** The home itself, as a device: its mode and its variables are properties like any other. */
export const OWN = 'own'
export const MODE = 'mode'
