/** KHR_animation_pointer, as far as cameras need it: how much a camera sees may change with time, beside what glTF 2.0 lets move. */

import {
  Extension,
  type AnimationChannel,
  type Camera,
  type ReaderContext,
  type WriterContext,
} from '@gltf-transform/core'

interface PointedTarget {
  extensions?: { KHR_animation_pointer?: { pointer?: string } }
}

export class AnimationPointer extends Extension {
  static override readonly EXTENSION_NAME = 'KHR_animation_pointer'
  override readonly extensionName = 'KHR_animation_pointer'
  /** whose height of view a channel moves */
  readonly heights = new Map<AnimationChannel, Camera>()

  /** Channels that point at a node's place, turn or size become ordinary ones; others than those and a camera's height stay as they are. */
  override read(context: ReaderContext): this {
    const animations = context.jsonDoc.json.animations ?? []
    animations.forEach(({ channels }, i) =>
      channels.forEach(({ target }, k) => {
        const pointer = (target as PointedTarget).extensions?.KHR_animation_pointer?.pointer
        const channel = context.animations[i].listChannels()[k]
        const [, camera] = /^\/cameras\/(\d+)\/perspective\/yfov$/.exec(pointer ?? '') ?? []
        if (camera && context.cameras[Number(camera)]) this.heights.set(channel, context.cameras[Number(camera)])
        const [, node, path] = /^\/nodes\/(\d+)\/(translation|rotation|scale)$/.exec(pointer ?? '') ?? []
        if (node && context.nodes[Number(node)])
          channel.setTargetNode(context.nodes[Number(node)]).setTargetPath(path as 'translation' | 'rotation' | 'scale')
      }),
    )
    return this
  }

  override write(context: WriterContext): this {
    const root = this.document.getRoot()
    const written = context.jsonDoc.json.animations ?? []
    root.listAnimations().forEach((animation, i) =>
      animation.listChannels().forEach((channel, k) => {
        const camera = this.heights.get(channel)
        if (!camera) return
        const pointer = `/cameras/${root.listCameras().indexOf(camera)}/perspective/yfov`
        Object.assign(written[i].channels[k].target, {
          path: 'pointer',
          extensions: { [this.extensionName]: { pointer } },
        })
      }),
    )
    return this
  }
}
