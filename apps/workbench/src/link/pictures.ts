import type { Token } from './token.js';

/** A picture of the server's; another version when its file has changed. */
export interface ListedPicture {
  readonly name: string;
  readonly version: number;
}

/** Pictures of the folders that the server was given, fetched once each. */
export class Pictures {
  readonly #bitmaps = new Map<string, Promise<ImageBitmap | undefined>>();
  readonly #versions: ReadonlyMap<string, number>;
  /** Their names. */
  readonly names: readonly string[];

  /** @param before of which those that are the same are kept */
  constructor(
    private readonly token: Token,
    listed: readonly ListedPicture[],
    before?: Pictures,
  ) {
    this.names = listed.map(({ name }) => name);
    this.#versions = new Map(listed.map(({ name, version }) => [name, version]));
    if (!before) return;
    for (const [name, bitmap] of before.#bitmaps)
      if (before.#versions.get(name) === this.#versions.get(name)) this.#bitmaps.set(name, bitmap);
  }

  has(name: string): boolean {
    return this.#versions.has(name);
  }

  /** Whether a list says the same as these. */
  isSame(listed: readonly ListedPicture[]): boolean {
    return (
      listed.length === this.names.length && listed.every(({ name, version }) => this.#versions.get(name) === version)
    );
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

/** Asks the server with the page's token; with a picture, to add it. */
export function ask(path: string, token: string, picture?: Blob): Promise<Response> {
  const headers = { authorization: `Bearer ${token}` };
  return fetch(path, picture ? { method: 'PUT', headers, body: picture } : { headers });
}
