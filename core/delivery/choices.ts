/** What can be chosen of an output. */

export const outputFormats = ['exr', 'dpx', 'png', 'tiff', 'movie', 'proof'] as const
export type OutputFormat = (typeof outputFormats)[number]
/** `plate`: the plate's own encoding and primaries. `view`: as the screen shows it, sRGB; never unless it is asked for. */
export const outputEncodings = ['linear', 'plate', 'view'] as const
export type OutputEncoding = (typeof outputEncodings)[number]
export const exrCompressions = ['none', 'zips', 'zip', 'piz'] as const
export type ExrCompression = (typeof exrCompressions)[number]
/** Of EXR samples: half floats, floats, or what holds the plate's own values without loss. */
export const sampleChoices = ['plate', 'half', 'float'] as const
export type SampleChoice = (typeof sampleChoices)[number]
