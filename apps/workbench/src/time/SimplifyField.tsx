import { useState } from 'react';
import { Button, Dialog, DialogTrigger, Popover } from 'react-aria-components';
import { isSelected, selection, selectKeys, shown } from '../model/actions.js';
import { keysOf } from '../model/keys.js';
import { keysWhere } from '../model/select.js';
import { finishPreview, showPreview } from '../model/session.js';
import { get, useStore } from '../model/store.js';
import { numbersOf } from '../model/values.js';
import { LabeledNumber } from '../numbers/LabeledNumber.js';

/** Removes keys that are not needed within a tolerance; the curves show what would be left, over what there is. */
export function SimplifyField() {
  const [tolerance, setTolerance] = useState(1);
  const status = useStore((state) => state.status.message);
  const preview = (next: number) => {
    setTolerance(next);
    const keys = selection();
    if (keys) showPreview({ do: 'simplify-keys', ...keys, tolerance: next });
  };
  const open = (isOpen: boolean) => {
    if (isOpen) preview(rangeOfSelection() / 100 || 0.1);
    else showPreview(undefined);
  };
  return (
    <DialogTrigger onOpenChange={open}>
      <Button className="text-button">Simplify …</Button>
      <Popover className="popover" placement="top">
        <Dialog className="fields-dialog" aria-label="Simplify the selected keys">
          {({ close }) => (
            <>
              <LabeledNumber
                caption="at most this much apart"
                label="Tolerance: how much a value may change"
                value={tolerance}
                step={tolerance / 10 || 0.01}
                least={1e-6}
                onChange={preview}
              />
              <p aria-live="polite">{status}</p>
              <Button
                className="text-button is-main"
                onPress={() => {
                  if (finishPreview()) dropLost();
                  close();
                }}
              >
                Simplify
              </Button>
            </>
          )}
        </Dialog>
      </Popover>
    </DialogTrigger>
  );
}

/** Keys that are gone are not selected. */
function dropLost(): void {
  const { selectedKeys } = get();
  selectKeys(keysWhere(({ at }, track) => isSelected(selectedKeys, track, at)));
}

/** From the lowest to the highest number of the selected keys. */
function rangeOfSelection(): number {
  const now = shown();
  const { selectedKeys } = get();
  let [low, high] = [Infinity, -Infinity];
  for (const track of Object.keys(selectedKeys)) {
    for (const { at, value } of keysOf(now?.clip.tracks?.[track] ?? [], now?.fps ?? 60)) {
      if (!isSelected(selectedKeys, track, at)) continue;
      for (const n of numbersOf(value as Parameters<typeof numbersOf>[0])) {
        low = Math.min(low, n);
        high = Math.max(high, n);
      }
    }
  }
  return high > low ? Number((high - low).toPrecision(2)) : 0;
}
