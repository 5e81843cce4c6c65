// Written by `@unspool/vite` from the reel beside it. Do not edit.
interface Names {
  readonly unspool: 1;
  readonly roles: {
    readonly "urchin": object;
  };
  readonly clips: {
    readonly "drift": { readonly cues: readonly (never)[]; };
    readonly "struck": { readonly cues: readonly (never)[]; };
    readonly "stop": { readonly cues: readonly (never)[]; };
  };
  /** Only for types: not present at run time. */
  readonly types?: {
    readonly values: {
      readonly "urchin.rotation": import('unspool').KindValues['angle'];
      readonly "urchin.scale": import('unspool').KindValues['vec2'];
      readonly "urchin.tint": import('unspool').KindValues['color'];
      readonly "urchin.position": import('unspool').KindValues['vec2'];
      readonly "urchin.body": import('unspool').KindValues['circle'];
      readonly "urchin.spines": import('unspool').KindValues['circle'];
    };
    readonly hit: never;
  };
}
declare const reel: import('unspool').Reel<import('unspool').NamesOf<Names>>;
export default reel;
