// Written by `unspool types` from the reel beside it. Do not edit.
declare const reel: {
  readonly unspool: 1;
  readonly roles: {
    readonly "barnacle": object;
  };
  readonly clips: {
    readonly "sway": { readonly cues: readonly { readonly name: never }[] };
    readonly "shut": { readonly cues: readonly { readonly name: never }[] };
  };
};
export default reel;
