declare module 'webvtt-parser' {
  export interface VttNode {
    readonly type: 'text' | 'object' | 'timestamp';
    readonly name?: string;
    readonly value: string;
    readonly children?: readonly VttNode[];
  }
  export interface VttCue {
    readonly id: string;
    readonly startTime: number;
    readonly endTime: number;
    readonly text: string;
    readonly tree: { readonly children: readonly VttNode[] } | null;
  }
  interface WebVTTParser {
    parse(
      text: string,
      mode: 'metadata' | 'subtitles',
    ): {
      readonly cues: readonly VttCue[];
      readonly styles: readonly string[];
      readonly errors: readonly { readonly message: string; readonly line: number; readonly col?: number }[];
    };
  }
  const parser: { readonly WebVTTParser: new (entities?: Readonly<Record<string, string>>) => WebVTTParser };
  export default parser;
}
