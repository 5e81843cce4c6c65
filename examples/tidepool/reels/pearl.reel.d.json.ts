// Written by `@unspool/vite` from the reel beside it. Do not edit.
interface Names {
  readonly unspool: 1;
  readonly roles: {
    readonly "pearl": object;
    readonly "sparkle": object;
  };
  readonly clips: {
    readonly "roll": { readonly cues: readonly ({ readonly name: "bounce"; readonly data: { readonly "sound": string; }; })[]; };
    readonly "twinkle": { readonly cues: readonly (never)[]; };
  };
  /** Only for types: not present at run time. */
  readonly types?: {
    readonly values: {
      readonly "pearl.position": import('unspool').KindValues['vec2'];
      readonly "pearl.opacity": import('unspool').KindValues['number'];
      readonly "sparkle.opacity": import('unspool').KindValues['number'];
      readonly "pearl.rotation": import('unspool').KindValues['angle'];
      readonly "sparkle.rotation": import('unspool').KindValues['angle'];
      readonly "pearl.scale": import('unspool').KindValues['vec2'];
      readonly "sparkle.scale": import('unspool').KindValues['vec2'];
    };
    readonly hit: never;
  };
}
declare const reel: import('unspool').Reel<import('unspool').NamesOf<Names>>;
export default reel;
