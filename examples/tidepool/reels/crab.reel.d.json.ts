// Written by `unspool types` from the reel beside it. Do not edit.
declare const reel: {
  readonly unspool: 1;
  readonly roles: {
    readonly "crab": object;
    readonly "body": object;
    readonly "claw": object;
  };
  readonly clips: {
    readonly "sway": { readonly cues: readonly { readonly name: never }[] };
    readonly "scuttle-right": { readonly cues: readonly { readonly name: "step" }[] };
    readonly "scuttle-left": { readonly cues: readonly { readonly name: "step" }[] };
    readonly "scuttle-down": { readonly cues: readonly { readonly name: "step" }[] };
    readonly "scuttle-up": { readonly cues: readonly { readonly name: "step" }[] };
    readonly "snap": { readonly cues: readonly { readonly name: "danger" | "shut" }[] };
    readonly "hide": { readonly cues: readonly { readonly name: "hidden" }[] };
    readonly "emerge": { readonly cues: readonly { readonly name: never }[] };
    readonly "hop": { readonly cues: readonly { readonly name: "landed" }[] };
    readonly "cheer": { readonly cues: readonly { readonly name: "landed" }[] };
    readonly "hurt": { readonly cues: readonly { readonly name: never }[] };
    readonly "stop": { readonly cues: readonly { readonly name: never }[] };
    readonly "show-off": { readonly cues: readonly { readonly name: "landed" | "danger" | "shut" }[] };
  };
  readonly chains: {
    readonly "victory": object;
  };
  readonly facings: {
    readonly "scuttle": object;
  };
};
export default reel;
