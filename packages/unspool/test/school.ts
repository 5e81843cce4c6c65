/** A reel for crowds: a clip that loops with two cues, and a pose of half a second. */
export const school = {
  unspool: 1,
  roles: { fish: {} },
  clips: {
    swim: {
      duration: 1,
      loop: 'loop',
      tracks: {
        'fish.position': [
          { at: 0, value: [0, 0], ease: 'ease-in-out' },
          { at: 1, value: [10, -10] },
        ],
        'fish.tint': [
          { at: 0, value: '#ff8800' },
          { at: 1, value: '#0088ff80' },
        ],
      },
      cues: [
        { at: 0.25, name: 'flick', data: { side: 'left' } },
        { at: 0.5, until: 0.75, name: 'glide' },
      ],
    },
    rest: { duration: 0.5, after: 'rest', tracks: { 'fish.rotation': [{ at: 0, value: 90 }] } },
  },
} as const;
