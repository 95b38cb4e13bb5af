/** Everyone of the demo firm signs in with this; a firm of one's own has no such password. */
export const demoPassword = 'harrow-sound'
