// Written by `@unspool/vite` from the reel beside it. Do not edit.
interface Names {
  readonly unspool: 1;
  readonly roles: {
    readonly "speck": object;
  };
  readonly clips: {
    readonly "drift": { readonly cues: readonly (never)[]; };
    readonly "sink": { readonly cues: readonly ({ readonly name: "fading"; })[]; };
  };
  /** Only for types: not present at run time. */
  readonly types?: {
    readonly values: {
      readonly "speck.position": import('unspool').KindValues['vec2'];
      readonly "speck.opacity": import('unspool').KindValues['number'];
      readonly "speck.tint": import('unspool').KindValues['color'];
      readonly "speck.scale": import('unspool').KindValues['vec2'];
    };
    readonly hit: never;
  };
}
declare const reel: import('unspool').Reel<import('unspool').NamesOf<Names>>;
export default reel;
