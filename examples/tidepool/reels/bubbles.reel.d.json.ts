// Written by `@unspool/vite` from the reel beside it. Do not edit.
interface Names {
  readonly unspool: 1;
  readonly roles: {
    readonly "bubble": object;
    readonly "ring": object;
  };
  readonly clips: {
    readonly "rise": { readonly cues: readonly ({ readonly name: "pop"; })[]; };
    readonly "ripple": { readonly cues: readonly (never)[]; };
  };
  /** Only for types: not present at run time. */
  readonly types?: {
    readonly values: {
      readonly "bubble.position": import('unspool').KindValues['vec3'];
      readonly "ring.opacity": import('unspool').KindValues['number'];
      readonly "ring.scale": import('unspool').KindValues['vec2'];
      readonly "bubble.scale": import('unspool').KindValues['vec3'];
      readonly "bubble.opacity": import('unspool').KindValues['number'];
      readonly "bubble.rotation": import('unspool').KindValues['quat'];
    };
    readonly hit: never;
  };
}
declare const reel: import('unspool').Reel<import('unspool').NamesOf<Names>>;
export default reel;
