import { Circle, CircleHelp, Redo2, Save, Search, Undo2 } from 'lucide-react';
import { Button, ToggleButton } from 'react-aria-components';
import { toggleRecording } from './model/actions.js';
import { go, openReel, save, takeBackReel } from './model/session.js';
import { set, useStore } from './model/store.js';

/** The top bar: the file and its state, recording, undo and redo, and the command list. */
export function TopBar() {
  const [served, reelName, recording] = [
    useStore((s) => s.served),
    useStore((s) => s.reelName),
    useStore((s) => s.recording),
  ];
  const { done, undone } = useStore((state) => state.steps);
  return (
    <header className="top-bar">
      <h1 className="hidden">Workbench</h1>
      <select
        aria-label="Reel"
        className="reel"
        value={reelName ?? ''}
        onChange={({ currentTarget }) => openReel(currentTarget.value)}
      >
        {served.map(({ name, file }) => (
          <option key={name} value={name} title={file}>
            {name}
          </option>
        ))}
      </select>
      <FileMark />
      <ToggleButton className="record" isSelected={recording} onChange={toggleRecording}>
        <Circle size={12} aria-hidden fill={recording ? 'currentColor' : 'none'} /> {recording ? 'Recording' : 'Record'}
      </ToggleButton>
      <Button
        className="icon"
        aria-label={done.length > 0 ? `Undo: ${done.at(-1)}` : 'Nothing to undo'}
        onPress={() => go('undo')}
      >
        <Undo2 size={16} aria-hidden />
      </Button>
      <Button
        className="icon"
        aria-label={undone.length > 0 ? `Redo: ${undone[0]}` : 'Nothing to redo'}
        onPress={() => go('redo')}
      >
        <Redo2 size={16} aria-hidden />
      </Button>
      <Button className="icon" aria-label="Save" onPress={save}>
        <Save size={16} aria-hidden />
      </Button>
      <Status />
      <Button className="find" onPress={() => set({ dialog: 'commands' })}>
        <Search size={13} aria-hidden /> Find a command <kbd>Ctrl K</kbd>
      </Button>
      <Button className="icon" aria-label="Keyboard shortcuts" onPress={() => set({ dialog: 'keys' })}>
        <CircleHelp size={16} aria-hidden />
      </Button>
    </header>
  );
}

function FileMark() {
  const { saved, problem, outside, lost } = useStore((state) => state.file);
  const connected = useStore((state) => state.connected);
  const isAnswered = useStore((state) => state.unanswered === 0);
  const states: readonly (readonly [isSo: unknown, label: string])[] = [
    [!connected, 'offline: your work is kept in this browser'],
    [lost, 'open elsewhere: take over'],
    [outside, 'changed on disk'],
    [problem, 'not saved'],
    [saved && isAnswered, 'saved'],
    [true, 'saving …'],
  ];
  const message = states.find(([isSo]) => isSo)![1];
  return (
    <button
      type="button"
      className={`file-mark ${!connected || outside || problem ? 'is-fault' : ''}`}
      title={problem ?? outside?.summary ?? message}
      onClick={() => (lost ? takeBackReel() : outside && set({ dialog: 'outside' }))}
      data-testid="file"
    >
      {message}
    </button>
  );
}

function Status() {
  const { message, isFault } = useStore((state) => state.status);
  const problem = useStore((state) => state.file.problem);
  return (
    <p
      className={`status ${isFault || problem ? 'is-fault' : ''}`}
      role="status"
      data-testid="status"
      title={problem ?? message}
    >
      {problem ?? message}
    </p>
  );
}
