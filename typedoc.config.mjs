const CASTS = ['pixi', 'dom', 'canvas', 'matrix', 'objects3d'].map((name) => `cast/${name}`);

/** @type {Partial<import('typedoc').TypeDocOptions>} */
export default {
  entryPoints: ['index', 'play', 'edit/index', 'hit/index', 'script/index', 'live/index', ...CASTS].map(
    (name) => `packages/unspool/src/${name}.ts`,
  ),
  tsconfig: 'packages/unspool/tsconfig.json',
  name: 'unspool',
  out: '.tsout/docs',
  excludeInternal: true,
  excludePrivate: true,
  excludeProtected: true,
  readme: 'none',
  // A clone may have no remote, or one of its own.
  disableSources: true,
  treatWarningsAsErrors: true,
  treatValidationWarningsAsErrors: true,
  validation: { notExported: true, invalidLink: true, notDocumented: true },
  // Parts of the interfaces of a canvas and of PixiJS.
  intentionallyNotDocumented: [
    ...['save', 'restore', 'beginPath', 'moveTo', 'lineTo', 'stroke', 'fillText'].map((m) => `hit.OverlayContext.${m}`),
    ...['clear', 'moveTo', 'lineTo', 'stroke'].map((m) => `hit.OverlayGraphics.${m}`),
    ...[
      'cast/pixi.PixiTarget.position',
      'cast/pixi.PixiTarget.scale',
      'cast/pixi.PixiTarget.pivot',
      'hit.OverlayText.position',
    ].map((m) => `${m}.__type.set`),
    ...[
      'save',
      'restore',
      'translate',
      'rotate',
      'scale',
      'beginPath',
      'moveTo',
      'lineTo',
      'closePath',
      'clip',
      'drawImage',
    ].map((m) => `cast/canvas.CanvasContext.${m}`),
    ...['setProperty', 'removeProperty', 'getPropertyValue'].map((m) => `cast/dom.DomStyle.${m}`),
    ...['clear', 'poly', 'poly.__type.fill'].map((m) => `cast/pixi.PixiMask.${m}`),
  ],
  // What types are derived from: the schema of the format, tables, and conditional types. Editors show the result.
  intentionallyNotExported: [
    ...['reelSchema', 'Member', 'Schemas', 'Simple', 'Frozen', 'PLAIN', 'BEZIER_KEYWORDS', 'FAMILIES'],
    ...['RoleOfTrack', 'ValueOfTrack', 'ValueIn', 'HitOfTrack', 'TypesIn', 'HitIn', 'ValuesIn'],
    ...['DocumentNames', 'InputsOf'],
  ],
  requiredToBeDocumented: ['Class', 'Interface', 'TypeAlias', 'Function', 'Variable', 'Enum'],
};
