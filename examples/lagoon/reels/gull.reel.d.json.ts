// Written by `@unspool/vite` from the reel beside it. Do not edit.
interface Names {
  readonly unspool: 1;
  readonly roles: {
    readonly "body": object;
    readonly "left": object;
    readonly "right": object;
  };
  readonly clips: {
    readonly "flap": { readonly cues: readonly (never)[]; };
    readonly "glide": { readonly cues: readonly (never)[]; };
  };
  /** Only for types: not present at run time. */
  readonly types?: {
    readonly values: {
      readonly "body.position": import('unspool').KindValues['vec3'];
      readonly "left.position": import('unspool').KindValues['vec3'];
      readonly "left.rotation": import('unspool').KindValues['angle'];
      readonly "right.position": import('unspool').KindValues['vec3'];
      readonly "right.rotation": import('unspool').KindValues['angle'];
    };
    readonly hit: never;
  };
}
declare const reel: import('unspool').Reel<import('unspool').NamesOf<Names>>;
export default reel;
