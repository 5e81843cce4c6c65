import { SlidersHorizontal } from 'lucide-react';
import { Button, Dialog, DialogTrigger, Popover } from 'react-aria-components';
import type { Operation } from 'unspool/edit';
import { apply, changing } from '../model/session.js';
import { fpsOf } from '../model/keys.js';
import { useStore } from '../model/store.js';
import { LoopFields } from '../numbers/LoopFields.js';
import { LabeledNumber } from '../numbers/LabeledNumber.js';
import { RateField } from '../numbers/RateField.js';
import { TypedField } from '../numbers/TypedField.js';

/** What a clip says of itself besides its name and duration. */
export function ClipFields({ name }: { readonly name: string }) {
  const doc = useStore((state) => state.doc)!;
  const clip = doc.clips[name];
  if (!clip) return null;
  const changed = (to: Readonly<Record<string, unknown>>): Operation => ({ do: 'change', what: 'clip', name, to });
  const change = (to: Readonly<Record<string, unknown>>) => apply(changed(to));
  return (
    <DialogTrigger>
      <Button className="icon" aria-label={`More options of the clip ${name}`}>
        <SlidersHorizontal size={14} aria-hidden />
      </Button>
      <Popover className="popover" placement="bottom">
        <Dialog className="fields-dialog" aria-label={`The clip ${name}`}>
          <LoopFields caption="loop" label="Loop of the clip" loop={clip.loop} onChange={(loop) => change({ loop })} />
          <RateField label="Playback rate in the game" rate={clip.rate} changed={changed} />
          <label className="field">
            <span>after the end</span>
            <select
              aria-label="After the end"
              value={clip.after ?? 'hold'}
              onChange={({ currentTarget }) =>
                change({ after: currentTarget.value === 'hold' ? null : currentTarget.value })
              }
            >
              <option value="hold">hold the last pose</option>
              <option value="rest">return to rest</option>
            </select>
          </label>
          <LabeledNumber
            caption="fps"
            label="Frame rate of the clip (fps)"
            value={fpsOf(doc, clip)}
            least={1}
            {...changing((fps) => changed({ fps }))}
          />
          <TypedField
            caption="about"
            label="Description of the clip"
            grows
            text={clip.about ?? ''}
            onTake={(about) => change({ about: about || null })}
          />
        </Dialog>
      </Popover>
    </DialogTrigger>
  );
}
