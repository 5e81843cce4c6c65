// Written by `@unspool/vite` from the reel beside it. Do not edit.
interface Names {
  readonly unspool: 1;
  readonly roles: {
    readonly "sheet": object;
    readonly "item1": object;
    readonly "item2": object;
    readonly "item3": object;
    readonly "item4": object;
  };
  readonly clips: {
    readonly "fold": { readonly cues: readonly ({ readonly name: "opened"; })[]; };
    readonly "fold-calm": { readonly cues: readonly ({ readonly name: "opened"; })[]; };
  };
  /** Only for types: not present at run time. */
  readonly types?: {
    readonly values: {
      readonly "sheet.visible": import('unspool').KindValues['flag'];
      readonly "sheet.unroll": import('unspool').KindValues['box'];
      readonly "item1.position": import('unspool').KindValues['vec2'];
      readonly "item1.opacity": import('unspool').KindValues['number'];
      readonly "item2.position": import('unspool').KindValues['vec2'];
      readonly "item2.opacity": import('unspool').KindValues['number'];
      readonly "item3.position": import('unspool').KindValues['vec2'];
      readonly "item3.opacity": import('unspool').KindValues['number'];
      readonly "item4.position": import('unspool').KindValues['vec2'];
      readonly "item4.opacity": import('unspool').KindValues['number'];
      readonly "sheet.opacity": import('unspool').KindValues['number'];
    };
    readonly hit: never;
  };
}
declare const reel: import('unspool').Reel<import('unspool').NamesOf<Names>>;
export default reel;
