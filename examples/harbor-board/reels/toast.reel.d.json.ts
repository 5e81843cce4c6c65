// Written by `@unspool/vite` from the reel beside it. Do not edit.
interface Names {
  readonly unspool: 1;
  readonly roles: {
    readonly "toast": object;
  };
  readonly clips: {
    readonly "say": { readonly cues: readonly ({ readonly name: "said"; })[]; };
    readonly "say-calm": { readonly cues: readonly ({ readonly name: "said"; })[]; };
  };
  /** Only for types: not present at run time. */
  readonly types?: {
    readonly values: {
      readonly "toast.visible": import('unspool').KindValues['flag'];
      readonly "toast.opacity": import('unspool').KindValues['number'];
      readonly "toast.position": import('unspool').KindValues['vec2'];
    };
    readonly hit: never;
  };
}
declare const reel: import('unspool').Reel<import('unspool').NamesOf<Names>>;
export default reel;
