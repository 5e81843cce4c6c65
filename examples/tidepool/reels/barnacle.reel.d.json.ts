// Written by `@unspool/vite` from the reel beside it. Do not edit.
interface Names {
  readonly unspool: 1;
  readonly roles: {
    readonly "barnacle": object;
  };
  readonly clips: {
    readonly "sway": { readonly cues: readonly (never)[]; };
    readonly "shut": { readonly cues: readonly (never)[]; };
  };
  /** Only for types: not present at run time. */
  readonly types?: {
    readonly values: {
      readonly "barnacle.scale": import('unspool').KindValues['vec2'];
      readonly "barnacle.rotation": import('unspool').KindValues['angle'];
    };
    readonly hit: never;
  };
}
declare const reel: import('unspool').Reel<import('unspool').NamesOf<Names>>;
export default reel;
