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
      <Button className="icon" aria-label={`More of the clip ${name}: how often, its rate, what comes after`}>
        <SlidersHorizontal size={14} aria-hidden />
      </Button>
      <Popover className="popover" placement="bottom">
        <Dialog className="fields-dialog" aria-label={`The clip ${name}`}>
          <LoopFields caption="loop" label="Loop of the clip" loop={clip.loop} onChange={(loop) => change({ loop })} />
          <RateField label="Rate of the clip in the game" rate={clip.rate} changed={changed} />
          <label className="field">
            <span>after its end</span>
            <select
              aria-label="After its end"
              value={clip.after ?? 'hold'}
              onChange={({ currentTarget }) =>
                change({ after: currentTarget.value === 'hold' ? null : currentTarget.value })
              }
            >
              <option value="hold">the last pose stays</option>
              <option value="rest">the rest pose comes back</option>
            </select>
          </label>
          <LabeledNumber
            caption="frames a second"
            label="Frames a second of the clip"
            value={fpsOf(doc, clip)}
            least={1}
            {...changing((fps) => changed({ fps }))}
          />
          <TypedField
            caption="about"
            label="What the clip is about"
            grows
            text={clip.about ?? ''}
            onTake={(about) => change({ about: about || null })}
          />
        </Dialog>
      </Popover>
    </DialogTrigger>
  );
}
