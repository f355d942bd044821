/** Camera files. */

export {
  readCameras,
  UnusableCameraError,
  type CameraFile,
  type CameraPose,
  type CameraSays,
  type FileCamera,
  type FileTiming,
  type ScenePlane,
  type ScenePoint,
} from './gltf'
export { writeCamera, type CameraToWrite } from './write-gltf'
