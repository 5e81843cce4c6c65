// Written by `unspool types` from the reel beside it. Do not edit.
declare const reel: {
  readonly unspool: 1;
  readonly roles: {
    readonly "pearl": object;
    readonly "sparkle": object;
  };
  readonly clips: {
    readonly "roll": { readonly cues: readonly { readonly name: "bounce" }[] };
    readonly "twinkle": { readonly cues: readonly { readonly name: never }[] };
  };
};
export default reel;
