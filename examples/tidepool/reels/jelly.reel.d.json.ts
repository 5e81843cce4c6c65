// Written by `unspool types` from the reel beside it. Do not edit.
declare const reel: {
  readonly unspool: 1;
  readonly roles: {
    readonly "bell": object;
    readonly "lamp": object;
    readonly "tendrils": object;
  };
  readonly clips: {
    readonly "pulse": { readonly cues: readonly { readonly name: "bright" }[] };
    readonly "flinch": { readonly cues: readonly { readonly name: never }[] };
    readonly "startle": { readonly cues: readonly { readonly name: "bright" }[] };
  };
};
export default reel;
