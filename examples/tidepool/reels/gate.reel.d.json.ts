// Written by `unspool types` from the reel beside it. Do not edit.
declare const reel: {
  readonly unspool: 1;
  readonly roles: {
    readonly "gate": object;
    readonly "wheel": object;
    readonly "lamp": object;
  };
  readonly clips: {
    readonly "gate": { readonly cues: readonly { readonly name: "opened" | "closing" | "closed" }[]; readonly spans: { readonly "opening": object; readonly "closing": object; } };
    readonly "leak": { readonly cues: readonly { readonly name: never }[] };
  };
};
export default reel;
