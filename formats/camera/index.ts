/** Camera files. */

export { readGltfCameras, UnusableCameraError, type CameraSays } from './gltf'
