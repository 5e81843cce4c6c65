import { memo, useEffect, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { Tab, TabList, TabPanel, Tabs } from 'react-aria-components';
import { Dialogs } from './commands/Dialogs.js';
import { hearKeyboard } from './commands/keyboard.js';
import { addPictures } from './model/session.js';
import { FOCUS_AREAS, set, useStore, type FocusArea } from './model/store.js';
import { useAdvice } from './model/advice.js';
import { AdvicePanel } from './panels/AdvicePanel.js';
import { ClipsPanel } from './panels/ClipsPanel.js';
import { TryOutPanel } from './panels/TryOutPanel.js';
import { RolesPanel } from './panels/RolesPanel.js';
import { SheetsPanel } from './panels/SheetsPanel.js';
import { HistoryPanel } from './panels/HistoryPanel.js';
import { Stage } from './stage/Stage.js';
import { Curves } from './time/Curves.js';
import { KeyLine } from './time/KeyBar.js';
import { Rows, useRows } from './time/Rows.js';
import { MarkList, Ruler } from './time/Ruler.js';
import { Transport } from './time/Transport.js';
import { TopBar } from './TopBar.js';

const PANELS: Readonly<Record<FocusArea, () => React.ReactNode>> = {
  clips: ClipsPanel,
  roles: RolesPanel,
  sheets: SheetsPanel,
  'try-out': TryOutPanel,
  advice: AdvicePanel,
  history: HistoryPanel,
};

/** Two leaves: what is seen on the left, when on the right. */
export function App() {
  const [left, setLeft] = useState(40);
  useEffect(hearKeyboard, []);
  return (
    <div
      className="workbench"
      style={{ gridTemplateColumns: `${left}% 5px 1fr` }}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        void addPictures([...event.dataTransfer.files]);
      }}
    >
      <TopBar />
      <main className="leaf">
        <Stage />
        <Places />
      </main>
      <Divider share={left} onChange={setLeft} />
      <TimeLeaf />
      <Dialogs />
      <Advisor />
    </div>
  );
}

/** Looks at the reel; shows nothing itself. */
function Advisor() {
  useAdvice();
  return null;
}

const Places = memo(function Places() {
  const place = useStore((state) => state.focusArea);
  const count = useStore((state) => state.advice.length);
  return (
    <Tabs className="places" selectedKey={place} onSelectionChange={(key) => set({ focusArea: key as FocusArea })}>
      <TabList aria-label="Panels" className="tab-list">
        {FOCUS_AREAS.map((one) => (
          <Tab key={one} id={one} className="tab">
            {one === 'advice' && count > 0 ? `advice (${count})` : one}
          </Tab>
        ))}
      </TabList>
      {FOCUS_AREAS.map((one) => {
        const Panel = PANELS[one];
        return (
          <TabPanel key={one} id={one} className="panel">
            <Panel />
          </TabPanel>
        );
      })}
    </Tabs>
  );
});

const TimeLeaf = memo(function TimeLeaf() {
  const hasClip = useStore((state) => state.clip !== undefined);
  const hasDoc = useStore((state) => state.doc !== undefined);
  return (
    <section className="leaf time-leaf" aria-label="Time">
      <Transport />
      {hasClip ? (
        <>
          <div className="ruler-line">
            <div className="ruler-head">
              <MarkList />
            </div>
            <Ruler />
          </div>
          <RowsAndCurves />
        </>
      ) : (
        <p className="empty">{hasDoc ? 'No clips yet. Press Alt+N to add one.' : 'Loading the reel …'}</p>
      )}
      <KeyLine />
    </section>
  );
});

function RowsAndCurves() {
  const rows = useRows();
  return (
    <>
      <Rows rows={rows} />
      <Curves rows={rows} />
    </>
  );
}

/** Divides the page between the leaves. */
function Divider({ share, onChange }: { readonly share: number; readonly onChange: (share: number) => void }) {
  const give = (next: number) => onChange(Math.min(65, Math.max(25, next)));
  const onPointerMove = (event: PointerEvent) => {
    if (event.buttons === 1) give((event.clientX / innerWidth) * 100);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key !== 'ArrowLeft' && event.key !== 'ArrowRight') return;
    event.preventDefault();
    event.stopPropagation();
    give(share + (event.key === 'ArrowLeft' ? -2 : 2));
  };
  return (
    // A separator that can be focused is a widget: https://www.w3.org/TR/wai-aria-1.2/#separator
    // eslint-disable-next-line jsx-a11y/no-noninteractive-element-interactions
    <div
      className="divider"
      role="separator"
      aria-label="Width of the left panel"
      aria-orientation="vertical"
      aria-valuenow={Math.round(share)}
      aria-valuemin={25}
      aria-valuemax={65}
      tabIndex={0}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={onPointerMove}
      onKeyDown={onKeyDown}
    />
  );
}
