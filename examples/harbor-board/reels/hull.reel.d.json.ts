// Written by `@unspool/vite` from the reel beside it. Do not edit.
interface Names {
  readonly unspool: 1;
  readonly roles: {
    readonly "bar": object;
    readonly "lost": object;
  };
  readonly clips: {
    readonly "level": { readonly cues: readonly (never)[]; };
    readonly "trail": { readonly cues: readonly (never)[]; };
  };
  /** Only for types: not present at run time. */
  readonly types?: {
    readonly values: {
      readonly "bar.scale": import('unspool').KindValues['vec2'];
      readonly "bar.tint": import('unspool').KindValues['color'];
      readonly "lost.scale": import('unspool').KindValues['vec2'];
    };
    readonly hit: never;
  };
}
declare const reel: import('unspool').Reel<import('unspool').NamesOf<Names>>;
export default reel;
