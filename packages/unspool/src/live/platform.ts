/** What a page offers, as far as the link to the workbench needs it; all of it is missing elsewhere. */
export interface Platform {
  readonly WebSocket?: new (url: string, protocols: readonly string[]) => Socket;
  readonly fetch?: (url: string) => Promise<{ readonly ok: boolean; text(): Promise<string> }>;
  readonly document?: {
    readonly title: string;
    querySelector(selector: string): { getAttribute(name: string): string | null } | null;
  };
  readonly sessionStorage?: Kept;
  readonly performance: { now(): number };
  readonly console: { warn(message: string): void };
  addEventListener?(type: 'pagehide' | 'pageshow', listener: (event: { readonly persisted: boolean }) => void): void;
  setTimeout(run: () => void, ms: number): Timer;
  clearTimeout(timer: Timer | undefined): void;
}

/** In Node an object: it alone does not keep a program running. */
export type Timer = number | { unref?(): void };

export interface Socket {
  readonly readyState: number;
  readonly bufferedAmount: number;
  send(text: string): void;
  close(): void;
  addEventListener(type: 'open' | 'close' | 'error', listener: () => void): void;
  addEventListener(type: 'message', listener: (event: { readonly data: unknown }) => void): void;
}

interface Kept {
  getItem(key: string): string | null;
  setItem(key: string, text: string): void;
  removeItem(key: string): void;
}

export const platform = globalThis as unknown as Platform;
