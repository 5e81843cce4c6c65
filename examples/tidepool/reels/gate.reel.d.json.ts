// Written by `@unspool/vite` from the reel beside it. Do not edit.
interface Names {
  readonly unspool: 1;
  readonly roles: {
    readonly "gate": object;
    readonly "wheel": object;
    readonly "lamp": object;
  };
  readonly clips: {
    readonly "gate": { readonly cues: readonly ({ readonly name: "closed"; readonly data: { readonly "sound": string; }; } | { readonly name: "closing"; } | { readonly name: "opened"; readonly data: { readonly "sound": string; }; })[]; readonly spans: { readonly "opening": object; readonly "closing": object; }; };
    readonly "leak": { readonly cues: readonly (never)[]; };
  };
  /** Only for types: not present at run time. */
  readonly types?: {
    readonly values: {
      readonly "gate.position": import('unspool').KindValues['vec2'];
      readonly "wheel.rotation": import('unspool').KindValues['angle'];
      readonly "lamp.tint": import('unspool').KindValues['color'];
      readonly "gate.rotation": import('unspool').KindValues['angle'];
    };
    readonly hit: never;
  };
}
declare const reel: import('unspool').Reel<import('unspool').NamesOf<Names>>;
export default reel;
