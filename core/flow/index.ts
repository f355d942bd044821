/** Motion between pictures at every pixel, and pictures blurred by it. */

export type { Picture } from './features'
export { motionBlurred, type Neighbours } from './motion-blurred'
export { opticalFlow, type Flow } from './optical-flow'
