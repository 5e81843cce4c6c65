/** The colors of a picture. Every pair that carries meaning differs in lightness too. */
export interface Theme {
  readonly background: string;
  readonly panel: string;
  readonly grid: string;
  readonly ink: string;
  readonly muted: string;
  readonly cue: string;
  readonly interval: string;
  /** One per channel. */
  readonly lines: readonly [string, string, string, string];
}

export const THEMES: Readonly<Record<'light' | 'dark', Theme>> = {
  light: {
    background: '#fbf9f4',
    panel: '#ffffff',
    grid: '#e4dfd3',
    ink: '#22303a',
    muted: '#6b7680',
    cue: '#a8482b',
    interval: '#a8482b',
    lines: ['#12677e', '#b8791a', '#6a4fa0', '#3f7d3a'],
  },
  dark: {
    background: '#10181d',
    panel: '#17222a',
    grid: '#2a3842',
    ink: '#e6ecef',
    muted: '#93a3ad',
    cue: '#f09a72',
    interval: '#f09a72',
    lines: ['#5cc4d8', '#efb75a', '#b9a2ee', '#8fd08a'],
  },
};

export type ThemeName = keyof typeof THEMES;

/** The line style of a tag's shapes. Dashes differ too, so that color is never the only difference. */
export function styleOf({ lines }: Theme, tag: string): { readonly color: string; readonly dash: string | undefined } {
  if (tag === 'hits') return { color: lines[1], dash: undefined };
  if (tag === 'hurt') return { color: lines[0], dash: '7 4' };
  if (tag === 'reveal') return { color: lines[0], dash: '12 4' };
  if (tag === 'hide') return { color: lines[1], dash: '4 4 12 4' };
  return tag === 'push' ? { color: lines[3], dash: '2 3' } : { color: lines[2], dash: '9 3 2 3' };
}
