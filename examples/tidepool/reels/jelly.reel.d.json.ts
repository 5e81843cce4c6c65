// Written by `@unspool/vite` from the reel beside it. Do not edit.
interface Names {
  readonly unspool: 1;
  readonly roles: {
    readonly "bell": object;
    readonly "lamp": object;
    readonly "tendrils": object;
  };
  readonly clips: {
    readonly "pulse": { readonly cues: readonly ({ readonly name: "bright"; })[]; };
    readonly "flinch": { readonly cues: readonly (never)[]; };
    readonly "startle": { readonly cues: readonly ({ readonly name: "bright"; })[]; };
  };
  /** Only for types: not present at run time. */
  readonly types?: {
    readonly values: {
      readonly "bell.position": import('unspool').KindValues['vec2'];
      readonly "lamp.opacity": import('unspool').KindValues['number'];
      readonly "tendrils.position": import('unspool').KindValues['vec2'];
      readonly "lamp.tint": import('unspool').KindValues['color'];
      readonly "bell.scale": import('unspool').KindValues['vec2'];
      readonly "tendrils.scale": import('unspool').KindValues['vec2'];
      readonly "bell.weights.bulge": import('unspool').KindValues['number'];
      readonly "bell.rotation": import('unspool').KindValues['angle'];
      readonly "lamp.scale": import('unspool').KindValues['vec2'];
    };
    readonly hit: never;
  };
}
declare const reel: import('unspool').Reel<import('unspool').NamesOf<Names>>;
export default reel;
