// Written by `unspool types` from the reel beside it. Do not edit.
declare const reel: {
  readonly unspool: 1;
  readonly roles: {
    readonly "urchin": object;
  };
  readonly clips: {
    readonly "drift": { readonly cues: readonly { readonly name: never }[] };
    readonly "struck": { readonly cues: readonly { readonly name: never }[] };
    readonly "stop": { readonly cues: readonly { readonly name: never }[] };
  };
};
export default reel;
