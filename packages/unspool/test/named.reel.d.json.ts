// Written by `unspool types` from the reel beside it. Do not edit.
declare const reel: {
  readonly unspool: 1;
  readonly roles: {
    readonly "body": object;
    readonly "claw": object;
  };
  readonly clips: {
    readonly "sway": { readonly cues: readonly (never)[]; };
    readonly "snap": { readonly cues: readonly ({ readonly name: "danger"; } | { readonly name: "shut"; readonly data: { readonly "sound": string; }; })[]; };
  };
  /** Only for types: not present at run time. */
  readonly types?: {
    readonly values: {
      readonly "body.position": import('unspool').KindValues['vec2'];
      readonly "body.rotation": import('unspool').KindValues['angle'];
      readonly "claw.position": import('unspool').KindValues['vec2'];
      readonly "claw.rotation": import('unspool').KindValues['angle'];
      readonly "body.scale": import('unspool').KindValues['vec2'];
      readonly "claw.opacity": import('unspool').KindValues['number'];
    };
    readonly hit: never;
  };
};
export default reel;
