// Written by `@unspool/vite` from the reel beside it. Do not edit.
interface Names {
  readonly unspool: 1;
  readonly roles: {
    readonly "crab": object;
    readonly "body": object;
    readonly "claw": object;
  };
  readonly clips: {
    readonly "sway": { readonly cues: readonly (never)[]; };
    readonly "stretch": { readonly cues: readonly (never)[]; };
    readonly "scuttle-right": { readonly cues: readonly ({ readonly name: "step"; readonly data: { readonly "foot": string; }; })[]; };
    readonly "scuttle-left": { readonly cues: readonly ({ readonly name: "step"; readonly data: { readonly "foot": string; }; })[]; };
    readonly "scuttle-down": { readonly cues: readonly ({ readonly name: "step"; readonly data: { readonly "foot": string; }; })[]; };
    readonly "scuttle-up": { readonly cues: readonly ({ readonly name: "step"; readonly data: { readonly "foot": string; }; })[]; };
    readonly "snap": { readonly cues: readonly ({ readonly name: "danger"; } | { readonly name: "shut"; readonly data: { readonly "sound": string; readonly "strength": number; }; })[]; readonly spans: { readonly "recovery": object; }; };
    readonly "snap-two": { readonly cues: readonly ({ readonly name: "shut"; readonly data: { readonly "sound": string; readonly "strength": number; }; })[]; readonly spans: { readonly "recovery": object; }; };
    readonly "hide": { readonly cues: readonly ({ readonly name: "hidden"; })[]; };
    readonly "emerge": { readonly cues: readonly (never)[]; };
    readonly "hop": { readonly cues: readonly ({ readonly name: "landed"; })[]; };
    readonly "cheer": { readonly cues: readonly ({ readonly name: "landed"; })[]; };
    readonly "hurt": { readonly cues: readonly (never)[]; };
    readonly "flinch": { readonly cues: readonly (never)[]; };
    readonly "stop": { readonly cues: readonly (never)[]; };
    readonly "show-off": { readonly cues: readonly ({ readonly name: "danger"; } | { readonly name: "landed"; } | { readonly name: "shut"; readonly data: { readonly "sound": string; readonly "strength": number; }; })[]; };
  };
  readonly chains: {
    readonly "victory": object;
  };
  readonly facings: {
    readonly "scuttle": object;
  };
  readonly routines: {
    readonly "crab": { readonly inputs: { readonly "speed": { readonly kind: 'number' }; readonly "direction": { readonly kind: 'vec2' }; readonly "standing": { readonly kind: 'flag' }; readonly "hidden": { readonly kind: 'flag' }; readonly "attack": { readonly kind: 'signal' }; readonly "hop": { readonly kind: 'signal' }; readonly "win": { readonly kind: 'signal' }; readonly "hide": { readonly kind: 'signal' }; readonly "hurt": { readonly kind: 'signal' }; }; readonly rules: readonly ({ readonly name: "emerge" } | { readonly name: "flash" } | { readonly name: "flinch" } | { readonly name: "hidden" } | { readonly name: "hide" } | { readonly name: "hop" } | { readonly name: "idle" } | { readonly name: "scuttle" } | { readonly name: "snap" } | { readonly name: "snap-again" } | { readonly name: "victory" })[]; };
  };
  /** Only for types: not present at run time. */
  readonly types?: {
    readonly values: {
      readonly "crab.position": import('unspool').KindValues['vec2'];
      readonly "body.frame": import('unspool').KindValues['integer'];
      readonly "claw.position": import('unspool').KindValues['vec2'];
      readonly "claw.rotation": import('unspool').KindValues['angle'];
      readonly "claw.scale": import('unspool').KindValues['vec2'];
      readonly "crab.rotation": import('unspool').KindValues['angle'];
      readonly "crab.scale": import('unspool').KindValues['vec2'];
      readonly "claw.tint": import('unspool').KindValues['color'];
      readonly "claw.pincer": import('unspool').KindValues['box'];
      readonly "claw.visible": import('unspool').KindValues['flag'];
      readonly "body.tint": import('unspool').KindValues['color'];
    };
    readonly hit: { readonly "push": number; };
  };
}
declare const reel: import('unspool').Reel<import('unspool').NamesOf<Names>>;
export default reel;
