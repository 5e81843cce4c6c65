import type { Token } from './token.js';

/** Pictures of the folders that the server was given, fetched once each. */
export class Pictures {
  readonly #bitmaps = new Map<string, Promise<ImageBitmap | undefined>>();

  constructor(
    private readonly token: Token,
    /** Their names. */
    readonly names: readonly string[],
  ) {}

  has(name: string): boolean {
    return this.names.includes(name);
  }

  /** `undefined` for a missing file or one that is not an image. */
  load(name: string): Promise<ImageBitmap | undefined> {
    let bitmap = this.#bitmaps.get(name);
    if (!bitmap) {
      bitmap = this.#fetch(name).catch(() => undefined);
      this.#bitmaps.set(name, bitmap);
    }
    return bitmap;
  }

  async #fetch(name: string): Promise<ImageBitmap | undefined> {
    const path = name.split('/').map(encodeURIComponent).join('/');
    const response = await ask(`api/pictures/${path}`, this.token.text);
    return response.ok ? createImageBitmap(await response.blob(), { premultiplyAlpha: 'premultiply' }) : undefined;
  }
}

/** Asks the server with the page's token. */
export function ask(path: string, token: string): Promise<Response> {
  return fetch(path, { headers: { authorization: `Bearer ${token}` } });
}
