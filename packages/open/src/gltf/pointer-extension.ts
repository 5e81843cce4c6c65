import { Extension, type AnimationChannel, type WriterContext } from '@gltf-transform/core';

const NAME = 'KHR_animation_pointer';
const targets = new WeakMap<AnimationChannel, string>();

/** Says that a channel animates what a JSON Pointer into the file says, in place of a property of a node. */
export function pointChannel(channel: AnimationChannel, pointer: string): void {
  targets.set(channel, pointer);
}

/** Writes `KHR_animation_pointer` (https://github.com/KhronosGroup/glTF/tree/main/extensions/2.0/Khronos). */
export class AnimationPointer extends Extension {
  override readonly extensionName = NAME;
  static override readonly EXTENSION_NAME = NAME;

  override read(): this {
    return this;
  }

  override write(context: WriterContext): this {
    this.document
      .getRoot()
      .listAnimations()
      .forEach((animation, a) => {
        animation.listChannels().forEach((channel, c) => {
          const pointer = targets.get(channel);
          if (pointer === undefined) return;
          const written = context.jsonDoc.json.animations![a]!.channels[c]!;
          written.target = { path: 'pointer' as never, extensions: { [NAME]: { pointer } } };
        });
      });
    return this;
  }
}
