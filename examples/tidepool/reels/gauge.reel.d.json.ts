// Written by `@unspool/vite` from the reel beside it. Do not edit.
interface Names {
  readonly unspool: 1;
  readonly roles: {
    readonly "needle": object;
    readonly "bar": object;
    readonly "lost": object;
    readonly "frame": object;
    readonly "label": object;
    readonly "alarm": object;
  };
  readonly clips: {
    readonly "level": { readonly cues: readonly (never)[]; };
    readonly "lost": { readonly cues: readonly (never)[]; };
    readonly "grow": { readonly cues: readonly (never)[]; };
  };
  /** Only for types: not present at run time. */
  readonly types?: {
    readonly values: {
      readonly "needle.rotation": import('unspool').KindValues['angle'];
      readonly "bar.scale": import('unspool').KindValues['vec2'];
      readonly "lost.scale": import('unspool').KindValues['vec2'];
      readonly "lost.opacity": import('unspool').KindValues['number'];
      readonly "frame.scale": import('unspool').KindValues['vec2'];
      readonly "alarm.visible": import('unspool').KindValues['flag'];
      readonly "bar.size": import('unspool').KindValues['vec2'];
      readonly "label.reading": import('unspool').KindValues['text'];
      readonly "label.bubbles": import('unspool').KindValues['integer'];
      readonly "alarm.glow": import('unspool').KindValues['number'];
    };
    readonly hit: never;
  };
}
declare const reel: import('unspool').Reel<import('unspool').NamesOf<Names>>;
export default reel;
