// Written by `@unspool/vite` from the reel beside it. Do not edit.
interface Names {
  readonly unspool: 1;
  readonly roles: {
    readonly "face": object;
    readonly "veil": object;
    readonly "glow": object;
  };
  readonly clips: {
    readonly "press": { readonly cues: readonly (never)[]; };
    readonly "cool": { readonly cues: readonly (never)[]; };
    readonly "ready": { readonly cues: readonly ({ readonly name: "ready"; })[]; };
    readonly "ready-calm": { readonly cues: readonly ({ readonly name: "ready"; })[]; };
  };
  /** Only for types: not present at run time. */
  readonly types?: {
    readonly values: {
      readonly "face.scale": import('unspool').KindValues['vec2'];
      readonly "face.opacity": import('unspool').KindValues['number'];
      readonly "veil.visible": import('unspool').KindValues['flag'];
      readonly "glow.opacity": import('unspool').KindValues['number'];
      readonly "glow.scale": import('unspool').KindValues['vec2'];
      readonly "veil.left": import('unspool').KindValues['sector'];
    };
    readonly hit: never;
  };
}
declare const reel: import('unspool').Reel<import('unspool').NamesOf<Names>>;
export default reel;
