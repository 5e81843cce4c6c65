import { Sprite, Texture } from 'pixi.js';
import { get, type Backdrop } from '../model/store.js';

/** A picture behind the cast, as it is drawn. */
export class BackdropSprite {
  readonly sprite = new Sprite(Texture.EMPTY);
  #image: string | undefined;

  /** @param onPicture called when it has come and is to be drawn */
  constructor(private readonly onPicture: () => void) {
    this.sprite.anchor.set(0.5);
  }

  show(backdrop: Backdrop | undefined): void {
    const { sprite } = this;
    sprite.visible = backdrop !== undefined;
    if (!backdrop) return;
    sprite.position.set(...backdrop.at);
    sprite.scale.set(backdrop.scale);
    sprite.alpha = backdrop.opacity;
    if (backdrop.image !== this.#image) void this.#load(backdrop.image);
  }

  async #load(image: string): Promise<void> {
    this.#image = image;
    this.sprite.texture = Texture.EMPTY;
    const bitmap = await get().pictures!.load(image);
    // Another one may have been selected meanwhile.
    if (!bitmap || this.#image !== image || this.sprite.destroyed) return;
    this.sprite.texture = Texture.from(bitmap);
    this.onPicture();
  }
}
