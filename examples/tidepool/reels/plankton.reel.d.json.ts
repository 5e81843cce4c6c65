// Written by `unspool types` from the reel beside it. Do not edit.
declare const reel: {
  readonly unspool: 1;
  readonly roles: {
    readonly "speck": object;
  };
  readonly clips: {
    readonly "drift": { readonly cues: readonly { readonly name: never }[] };
    readonly "sink": { readonly cues: readonly { readonly name: "fading" }[] };
  };
};
export default reel;
