import { X } from 'lucide-react';
import { Button } from 'react-aria-components';
import type { RoutineDocument } from 'unspool';
import { ruleMoments } from 'unspool/edit';
import { apply, changing } from '../model/session.js';
import { useStore } from '../model/store.js';
import { LabeledNumber } from '../numbers/LabeledNumber.js';
import { LoopFields } from '../numbers/LoopFields.js';
import { TypedField } from '../numbers/TypedField.js';
import { ConditionFields } from './ConditionFields.js';
import { isTimeText, timeOf } from './time-text.js';
import { Choice } from './Choice.js';

type Rule = RoutineDocument['rules'][number];

/** All that a rule says. */
export function RuleFields({ routine, rule }: { readonly routine: string; readonly rule: Rule }) {
  const doc = useStore((state) => state.doc)!;
  const { inputs = {}, rules } = doc.routines![routine]!;
  const { name } = rule;
  const changed = (to: Readonly<Record<string, unknown>>) =>
    ({ do: 'change', what: 'rule', routine, name, to }) as const;
  const change = (to: Readonly<Record<string, unknown>>) => apply(changed(to));
  const inputsOf = (...kinds: readonly string[]) =>
    Object.keys(inputs).filter((input) => kinds.includes(inputs[input]!.kind));
  const { during, rate } = rule;
  const other = rules.find((one) => one.name === during?.rule);
  return (
    <div className="rule-fields">
      <TypedField
        caption="name"
        label={`Name of the rule ${name}`}
        text={name}
        isGood={(text) => text.trim() !== ''}
        onTake={(to) => apply({ do: 'rename', what: 'rule', routine, name, to })}
      />
      <Choice caption="on" value={rule.on} options={inputsOf('signal')} onChange={(on) => change({ on })} />
      <ConditionFields rule={rule} inputs={inputs} change={change} />
      <Choice
        caption="during"
        value={during?.rule}
        options={rules.map((one) => one.name).filter((one) => one !== name)}
        onChange={(one) => change({ during: one === null ? null : { rule: one } })}
      />
      {during && other && (
        <Choice
          caption="in its"
          value={during.span ?? during.cue}
          options={[...ruleMoments(doc, other).keys()]}
          onChange={(moment) => change({ during: duringOf(during.rule, moment, ruleMoments(doc, other)) })}
        />
      )}
      <PlayFields rule={rule} directions={inputsOf('vec2')} change={change} />
      <Choice
        caption="free from"
        value={rule.free}
        options={[...ruleMoments(doc, rule).keys()]}
        onChange={(free) => change({ free })}
      />
      {rate === undefined || typeof rate === 'number' ? (
        <LabeledNumber
          caption="rate"
          label={`Rate of ${name}`}
          value={rate ?? 1}
          step={0.05}
          {...changing((next) => changed({ rate: next === 1 ? null : next }))}
        />
      ) : (
        <LabeledNumber
          caption={`is 1 at a ${rate.input} of`}
          label={`${rate.input} at which the rate is 1`}
          value={rate.at}
          {...changing((at) => changed({ rate: { ...rate, at } }))}
        />
      )}
      <Choice
        caption="rate by"
        value={typeof rate === 'object' ? rate.input : undefined}
        options={inputsOf('number', 'vec2')}
        onChange={(input) => change({ rate: input === null ? null : { input, at: 60 } })}
      />
      <LoopFields
        caption="loop"
        label={`Loop of ${name}`}
        loop={rule.loop}
        unsaid="from the clip"
        onChange={(loop) => change({ loop })}
      />
      {(['fade', 'fadeOut', 'from', 'until'] as const).map((member) => (
        <TypedField
          key={member}
          caption={member === 'fadeOut' ? 'fade out' : member}
          label={`${member} of ${name}`}
          text={String(rule[member] ?? '')}
          isGood={member === 'fade' || member === 'fadeOut' ? isTimeText : () => true}
          onTake={(text) => change({ [member]: text.trim() === '' ? null : timeOf(text) })}
        />
      ))}
      <TypedField
        caption="layer"
        label={`Layer of ${name}`}
        text={rule.layer ?? ''}
        hint="base"
        onTake={(text) => change({ layer: text.trim() === '' ? null : text.trim() })}
      />
    </div>
  );
}

/** What it plays: a clip or chain, several to pick from, or a facing. */
function PlayFields({
  rule: { play = [], face, toward },
  directions,
  change,
}: {
  readonly rule: Rule;
  readonly directions: readonly string[];
  readonly change: (to: Readonly<Record<string, unknown>>) => void;
}) {
  const doc = useStore((state) => state.doc)!;
  const clips = [...Object.keys(doc.clips), ...Object.keys(doc.chains ?? {})];
  const facings = Object.keys(doc.facings ?? {});
  const list = typeof play === 'string' ? [play] : play;
  const put = (next: typeof list) => change({ play: next.length === 1 ? clipOf(next[0]!) : next });
  if (face !== undefined)
    return (
      <>
        <Choice
          caption="facing"
          value={face}
          options={facings}
          unsaid="a clip"
          onChange={(to) => change(to === null ? { face: null, toward: null, play: clips[0] } : { face: to })}
        />
        <Choice
          caption="toward"
          value={toward}
          options={directions}
          onChange={(to) => to !== null && change({ toward: to })}
        />
      </>
    );
  return (
    <div className="picks" role="group" aria-label="plays">
      {list.map((one, i) => (
        <span key={i}>
          <Choice
            caption={i === 0 ? 'plays' : 'or'}
            value={clipOf(one)}
            options={clips}
            isFixed
            onChange={(clip) => put(list.with(i, typeof one === 'string' ? clip! : { ...one, clip: clip! }))}
          />
          {list.length > 1 && (
            <>
              <TypedField
                caption="share"
                label={`Share of ${clipOf(one)}`}
                text={String(typeof one === 'string' ? 1 : (one.share ?? 1))}
                isGood={(text) => Number(text) > 0}
                onTake={(text) =>
                  put(list.with(i, Number(text) === 1 ? clipOf(one) : { clip: clipOf(one), share: Number(text) }))
                }
              />
              <Button
                className="icon"
                aria-label={`Do not pick ${clipOf(one)}`}
                onPress={() => put(list.toSpliced(i, 1))}
              >
                <X size={12} aria-hidden />
              </Button>
            </>
          )}
        </span>
      ))}
      <Choice
        caption=""
        label="Add a clip to pick"
        value={undefined}
        options={clips}
        unsaid="or …"
        onChange={(clip) => clip !== null && put([...list, clip])}
      />
      {facings.length > 0 && directions.length > 0 && (
        <Choice
          caption=""
          label="Play a facing"
          value={undefined}
          options={facings}
          unsaid="facing …"
          onChange={(to) => to !== null && change({ play: null, face: to, toward: directions[0] })}
        />
      )}
    </div>
  );
}

const clipOf = (one: string | { readonly clip: string }) => (typeof one === 'string' ? one : one.clip);

/** Inside a span or an interval of another rule, or past a cue. */
function duringOf(rule: string, moment: string | null, moments: ReturnType<typeof ruleMoments>): Rule['during'] {
  if (moment === null) return { rule };
  return moments.get(moment) === 'cue' ? { rule, cue: moment } : { rule, span: moment };
}
