import type { LivePlayer } from '@unspool/cli/protocol';
import { Button, ToggleButton } from 'react-aria-components';
import { restTrial } from '../commands/clip-commands.js';
import { dropTrial, keyTrial } from '../model/actions.js';
import { lead, togglePaused, watch } from '../model/live.js';
import { rolesOf } from '../model/rows.js';
import { openReel } from '../model/session.js';
import { get, set, useStore } from '../model/store.js';
import { shortNumber } from '../numbers/expression.js';
import { MotionRecorder } from './MotionRecorder.js';

const RATES = [0.1, 0.25, 0.5, 1, 2];

/** The running games: what they play, and one of their players that is watched and led. */
export function GamePanel() {
  const players = useStore((state) => state.live.players);
  const watched = useStore((state) => state.live.watched);
  const isThere = players.some(({ key }) => key === watched);
  return (
    <>
      {players.length === 0 && <NoGame />}
      <ul className="games" aria-label="Players of running games">
        {players.map((player) => (
          <PlayerRow key={player.key} player={player} isWatched={player.key === watched} />
        ))}
      </ul>
      {watched !== undefined && !isThere && (
        <p role="status">
          {watched} is gone. It is watched again when it comes back.{' '}
          <button type="button" className="link" onClick={() => watch(undefined)}>
            Stop waiting
          </button>
        </p>
      )}
      {isThere && <Lead />}
      {isThere && <Changed />}
      {isThere && <Motion />}
    </>
  );
}

function NoGame() {
  return (
    <div className="empty">
      <p>No running game is linked. In a game with @unspool/vite:</p>
      <pre>{"import { link } from 'unspool/live';\nlink(crab, { name: 'crab' });"}</pre>
      <p>
        For other games, start the workbench with <code>--live http://localhost:8080</code>. It prints the line to
        paste.
      </p>
    </div>
  );
}

function PlayerRow({ player, isWatched }: { readonly player: LivePlayer; readonly isWatched: boolean }) {
  const { name, game, reel, playing, quiet } = player;
  const look = (is: boolean) => {
    if (is && reel !== undefined && reel !== get().reelName) openReel(reel);
    watch(is ? player.key : undefined);
  };
  return (
    <li>
      <ToggleButton
        className="text-button"
        isSelected={isWatched}
        isDisabled={reel === undefined}
        onChange={look}
        aria-label={`Watch ${name} of ${game}`}
      >
        {isWatched ? 'Watching' : 'Watch'}
      </ToggleButton>
      <b>{name}</b>
      <span className="soft">{game}</span>
      <span>{reel === undefined ? 'plays a reel that is not open here' : playing || 'plays nothing'}</span>
      {quiet && <span className="is-fault">does not answer</span>}
    </li>
  );
}

function Lead() {
  const paused = useStore((state) => state.live.moment?.paused ?? false);
  const rate = useStore((state) => state.live.moment?.rate ?? 1);
  const { problem, opensClips, keepsPlace } = useStore((state) => state.live);
  const clip = useStore((state) => state.clip);
  return (
    <>
      <div className="panel-bar">
        <ToggleButton className="text-button" isSelected={paused} onChange={togglePaused}>
          {paused ? 'Resume the game' : 'Pause the game'} <kbd>Space</kbd>
        </ToggleButton>
        <Button className="text-button" isDisabled={!paused} onPress={() => lead({ do: 'step', frames: 1 })}>
          One frame
        </Button>
        <label className="field">
          <span>Game rate</span>
          <select
            value={rate}
            onChange={({ currentTarget }) => lead({ do: 'rate', rate: Number(currentTarget.value) })}
          >
            {[...new Set([...RATES, rate])].map((one) => (
              <option key={one}>{one}</option>
            ))}
          </select>
        </label>
        {clip !== undefined && (
          <Button className="text-button" onPress={() => lead({ do: 'play', clip })}>
            Play {clip} in the game
          </Button>
        )}
      </div>
      <div className="panel-bar">
        <label className="field">
          <input
            type="checkbox"
            checked={opensClips}
            onChange={({ currentTarget }) => set({ live: { ...get().live, opensClips: currentTarget.checked } })}
          />
          <span>Open the clip that plays</span>
        </label>
        <label className="field">
          <input
            type="checkbox"
            checked={keepsPlace}
            onChange={({ currentTarget }) => lead({ do: 'keep-place', on: currentTarget.checked })}
          />
          <span>Continue at the same place after a reload</span>
        </label>
      </div>
      {problem !== undefined && (
        <p className="is-fault" role="alert">
          The game refused: {problem}
        </p>
      )}
    </>
  );
}

/** What was set on the objects of the game, and is not kept yet. */
function Changed() {
  const paused = useStore((state) => state.live.moment?.paused ?? false);
  const trial = useStore((state) => state.trial);
  const names = Object.keys(trial);
  if (!paused || names.length === 0)
    return (
      <p className="soft">
        {paused
          ? 'Now set a value on an object in the game, by code or in the browser’s tools: it appears here.'
          : 'Pause the game to keep what you change on its objects. Moving the playhead pauses it, too.'}
      </p>
    );
  return (
    <div className="changed">
      <ul aria-label="Not kept yet">
        {names.map((name) => (
          <li key={name}>
            <b>{name}</b> {textOf(trial[name])}
          </li>
        ))}
      </ul>
      <div className="panel-bar">
        <Button className="text-button" onPress={() => keyTrial()}>
          Key at the playhead <kbd>K</kbd>
        </Button>
        <Button className="text-button" onPress={() => restTrial()}>
          Make it the rest value
        </Button>
        <Button className="text-button" onPress={() => dropTrial()}>
          Discard <kbd>Esc</kbd>
        </Button>
      </div>
    </div>
  );
}

const textOf = (value: unknown): string =>
  Array.isArray(value) ? value.map(textOf).join(', ') : typeof value === 'number' ? shortNumber(value) : String(value);

function Motion() {
  const doc = useStore((state) => state.doc);
  const reel = useStore((state) => state.reel);
  if (!doc || !reel) return null;
  return <MotionRecorder roles={rolesOf(doc, reel)} />;
}
