// Written by `@unspool/vite` from the reel beside it. Do not edit.
interface Names {
  readonly unspool: 1;
  readonly roles: {
    readonly "heart": object;
  };
  readonly clips: {
    readonly "beat": { readonly cues: readonly ({ readonly name: "thump"; })[]; };
    readonly "beat-calm": { readonly cues: readonly (never)[]; };
  };
  /** Only for types: not present at run time. */
  readonly types?: {
    readonly values: {
      readonly "heart.scale": import('unspool').KindValues['vec2'];
      readonly "heart.opacity": import('unspool').KindValues['number'];
    };
    readonly hit: never;
  };
}
declare const reel: import('unspool').Reel<import('unspool').NamesOf<Names>>;
export default reel;
