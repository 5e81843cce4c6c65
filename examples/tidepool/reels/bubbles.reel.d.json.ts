// Written by `unspool types` from the reel beside it. Do not edit.
declare const reel: {
  readonly unspool: 1;
  readonly roles: {
    readonly "bubble": object;
    readonly "ring": object;
  };
  readonly clips: {
    readonly "rise": { readonly cues: readonly { readonly name: "pop" }[] };
    readonly "ripple": { readonly cues: readonly { readonly name: never }[] };
  };
};
export default reel;
