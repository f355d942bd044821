/** Tones of red, green and blue in plots. */

export const channelStrokes = { r: '#d98c84', g: '#9dbb8c', b: '#8ba6d6' } as const
