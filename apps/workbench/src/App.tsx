import { memo, useEffect, type CSSProperties } from 'react';
import { Tab, TabList, TabPanel, Tabs } from 'react-aria-components';
import { Dialogs } from './commands/Dialogs.js';
import { hearKeyboard } from './commands/keyboard.js';
import { takeFiles } from './commands/exchange-prompts.js';
import { Divider } from './Divider.js';
import { changeShares, FOCUS_AREAS, SHARES, set, useStore, type FocusArea } from './model/store.js';
import { useAdvice } from './model/advice.js';
import { AdvicePanel } from './panels/AdvicePanel.js';
import { ClipsPanel } from './panels/ClipsPanel.js';
import { GamePanel } from './panels/GamePanel.js';
import { TryOutPanel } from './panels/TryOutPanel.js';
import { RolesPanel } from './panels/RolesPanel.js';
import { SheetsPanel } from './panels/SheetsPanel.js';
import { HistoryPanel } from './panels/HistoryPanel.js';
import { RoutinesPanel } from './routines/RoutinesPanel.js';
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
  routines: RoutinesPanel,
  'try-out': TryOutPanel,
  game: GamePanel,
  advice: AdvicePanel,
  history: HistoryPanel,
};

/** Two leaves: what is seen on the left, when on the right. */
export function App() {
  const { left, stage } = useStore((state) => state.shares);
  useEffect(hearKeyboard, []);
  return (
    <div
      className="workbench"
      style={{ '--left-share': `${left}%`, '--stage-share': `${stage}%` } as CSSProperties}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault();
        const files = [...event.dataTransfer.files];
        if (files.length > 0) void takeFiles(files);
      }}
    >
      <TopBar />
      <main className="leaf">
        <Stage />
        <Divider
          label="Height of the stage"
          axis="y"
          share={stage}
          least={25}
          most={96}
          usual={SHARES.stage}
          onChange={(next) => changeShares({ stage: next })}
        />
        <Places />
      </main>
      <Divider
        label="Width of the left panel"
        axis="x"
        share={left}
        least={25}
        most={75}
        usual={SHARES.left}
        onChange={(next) => changeShares({ left: next })}
      />
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
  const share = useStore((state) => state.shares.rows);
  return (
    <div className="rows-and-curves" style={{ '--rows-share': `${share}%` } as CSSProperties}>
      <Rows rows={rows} />
      <Divider
        label="Height of the tracks"
        axis="y"
        share={share}
        least={20}
        most={92}
        usual={SHARES.rows}
        onChange={(next) => changeShares({ rows: next })}
      />
      <Curves rows={rows} />
    </div>
  );
}
