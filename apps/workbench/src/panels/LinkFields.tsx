import { Button, Dialog, DialogTrigger, Popover } from 'react-aria-components';
import { parseTime, type ReelDocument } from 'unspool';
import type { Operation } from 'unspool/edit';
import { fpsOf, writeAt } from '../model/keys.js';
import { apply, changing } from '../model/session.js';
import { showClip, useStore } from '../model/store.js';
import { FrameField } from '../numbers/FrameField.js';
import { LoopFields } from '../numbers/LoopFields.js';
import { RateField } from '../numbers/RateField.js';

type Link = NonNullable<ReelDocument['chains']>[string][number];
type LongLink = Exclude<Link, string>;

/** A clip in a chain: pressed, how it is played there. */
export function LinkFields({
  chain,
  link,
  changed: changedTo,
}: {
  readonly chain: string;
  readonly link: Link;
  /** The operation that replaces a link. */
  readonly changed: (link: Link) => Operation;
}) {
  const doc = useStore((state) => state.doc)!;
  const long: LongLink = typeof link === 'string' ? { clip: link } : link;
  const clip = doc.clips[long.clip];
  const fps = clip ? fpsOf(doc, clip) : 60;
  /** What is as the clip itself has it is not written; a link of nothing else is its name. */
  const changed = (to: Readonly<Record<string, unknown>>) => {
    const members = Object.entries({ ...long, ...to }).filter(([, value]) => value !== undefined && value !== null);
    return changedTo(members.length === 1 ? long.clip : (Object.fromEntries(members) as unknown as LongLink));
  };
  const change = (to: Readonly<Record<string, unknown>>) => apply(changed(to));
  return (
    <DialogTrigger>
      <Button className="link-name" aria-label={`${describeLink(long)}: options in ${chain}`}>
        {describeLink(long)}
      </Button>
      <Popover className="popover" placement="top">
        <Dialog className="fields-dialog" aria-label={`${long.clip} in ${chain}`}>
          <LoopFields
            caption="loop"
            label={`Loop of ${long.clip}`}
            loop={long.loop}
            unsaid="from the clip"
            onChange={(loop) => change({ loop })}
          />
          <RateField label={`Rate of ${long.clip}`} rate={long.rate} changed={changed} />
          <FrameField
            caption="fade"
            label={`Fade into ${long.clip}`}
            frames={(long.fade === undefined ? 0 : parseTime(long.fade, fps)!) * fps}
            fps={fps}
            {...changing((frames) =>
              changed({ fade: frames === 0 || !clip ? null : writeAt(frames / fps, fps, clip) }),
            )}
          />
          <label className="field">
            <span>only</span>
            <select
              aria-label={`Span of ${long.clip}`}
              value={long.span ?? ''}
              onChange={({ currentTarget }) => change({ span: currentTarget.value || null })}
            >
              <option value="">whole clip</option>
              {Object.keys(clip?.spans ?? {}).map((span) => (
                <option key={span}>{span}</option>
              ))}
            </select>
          </label>
          <Button className="text-button" onPress={() => showClip(long.clip)}>
            Show the clip
          </Button>
        </Dialog>
      </Popover>
    </DialogTrigger>
  );
}

/** `sway (loop × 2) at 0.5 fade 6f` */
function describeLink({ clip, loop, rate, span, fade }: LongLink): string {
  const mode = typeof loop === 'object' ? `${loop.mode} × ${loop.count ?? '∞'}` : loop;
  return [
    span === undefined ? clip : `${clip}: ${span}`,
    mode && `(${mode})`,
    rate !== undefined && `at ${rate}`,
    fade !== undefined && `fade ${fade}`,
  ]
    .filter(Boolean)
    .join(' ');
}
