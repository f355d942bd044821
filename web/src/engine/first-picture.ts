/** What the first picture must not wait for waits for the first picture, but not for ever. */

/** A picture that takes longer does not keep the rest of the screen waiting. */
const longestWaitMs = 4000

let tell: () => void = () => undefined

/** Comes true when a picture was shown for the first time, when one could not be made, or when it takes long. */
export const firstPicture = new Promise<void>((resolve) => {
  tell = resolve
  setTimeout(resolve, longestWaitMs)
})

export function pictureWasShown(): void {
  tell()
}
