// Written by `@unspool/vite` from the reel beside it. Do not edit.
interface Names {
  readonly unspool: 1;
  readonly roles: {
    readonly "camera": object;
    readonly "caption": object;
    readonly "boat": object;
    readonly "sail": object;
    readonly "lantern": object;
    readonly "buoy": object;
    readonly "bell": object;
    readonly "water": object;
  };
  readonly clips: {
    readonly "arrival": { readonly cues: readonly ({ readonly name: "bell"; readonly data: { readonly "strength": number; }; } | { readonly name: "line"; readonly data: { readonly "speaker": string; readonly "text": string; }; } | { readonly name: "moored"; })[]; };
    readonly "ashore": { readonly cues: readonly (never)[]; };
    readonly "rock": { readonly cues: readonly (never)[]; };
    readonly "shake": { readonly cues: readonly (never)[]; };
  };
  /** Only for types: not present at run time. */
  readonly types?: {
    readonly values: {
      readonly "camera.position": import('unspool').KindValues['vec3'];
      readonly "camera.target": import('unspool').KindValues['vec3'];
      readonly "camera.fov": import('unspool').KindValues['number'];
      readonly "caption.typed": import('unspool').KindValues['number'];
      readonly "boat.position": import('unspool').KindValues['vec3'];
      readonly "boat.rotation": import('unspool').KindValues['quat'];
      readonly "sail.position": import('unspool').KindValues['vec3'];
      readonly "sail.scale": import('unspool').KindValues['vec3'];
      readonly "lantern.position": import('unspool').KindValues['vec3'];
      readonly "lantern.scale": import('unspool').KindValues['vec3'];
      readonly "lantern.glow": import('unspool').KindValues['number'];
      readonly "buoy.position": import('unspool').KindValues['vec3'];
      readonly "buoy.rotation": import('unspool').KindValues['quat'];
      readonly "buoy.weights.bulge": import('unspool').KindValues['number'];
      readonly "bell.position": import('unspool').KindValues['vec3'];
      readonly "bell.rotation": import('unspool').KindValues['angle'];
      readonly "water.phase": import('unspool').KindValues['number'];
    };
    readonly hit: never;
  };
}
declare const reel: import('unspool').Reel<import('unspool').NamesOf<Names>>;
export default reel;
