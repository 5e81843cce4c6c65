// Written by `unspool types` from the reel beside it. Do not edit.
declare const reel: {
  readonly unspool: 1;
  readonly roles: {
    readonly "needle": object;
    readonly "bar": object;
    readonly "lost": object;
    readonly "frame": object;
    readonly "label": object;
    readonly "alarm": object;
  };
  readonly clips: {
    readonly "level": { readonly cues: readonly { readonly name: never }[] };
    readonly "lost": { readonly cues: readonly { readonly name: never }[] };
    readonly "grow": { readonly cues: readonly { readonly name: never }[] };
  };
};
export default reel;
