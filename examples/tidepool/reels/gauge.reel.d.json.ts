// Written by `unspool types` from the reel beside it. Do not edit.
declare const reel: {
  readonly unspool: 1;
  readonly roles: {
    readonly "needle": object;
    readonly "bar": object;
    readonly "label": object;
    readonly "alarm": object;
  };
  readonly clips: {
    readonly "drain": { readonly cues: readonly { readonly name: "low" | "empty" }[] };
  };
};
export default reel;
