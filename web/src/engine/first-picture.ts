/** What the first picture must not wait for can wait for the first picture. */

let tell: () => void = () => undefined

/** Comes true when a picture was shown for the first time, or when one could not be made. */
export const firstPicture = new Promise<void>((resolve) => (tell = resolve))

export function pictureWasShown(): void {
  tell()
}
