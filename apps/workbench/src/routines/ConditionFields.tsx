import { X } from 'lucide-react';
import { Button } from 'react-aria-components';
import type { RoutineDocument } from 'unspool';
import { TypedField } from '../numbers/TypedField.js';
import { Choice } from './Choice.js';
import { isTimeText, timeOf } from './time-text.js';

type Rule = RoutineDocument['rules'][number];
type Conditions = NonNullable<Rule['if']>;
type Condition = Conditions[string];

const TESTS = ['above', 'below', 'equals'] as const;

/** The conditions of a rule, one for each input that it reads. */
export function ConditionFields({
  rule: { if: conditions = {} },
  inputs,
  change,
}: {
  readonly rule: Rule;
  readonly inputs: NonNullable<RoutineDocument['inputs']>;
  readonly change: (to: Readonly<Record<string, unknown>>) => void;
}) {
  const put = (next: Readonly<Record<string, unknown>>) => change({ if: Object.keys(next).length === 0 ? null : next });
  const free = Object.keys(inputs).filter(
    (name) => inputs[name]!.kind !== 'signal' && !Object.hasOwn(conditions, name),
  );
  return (
    <div className="picks" role="group" aria-label="if">
      {Object.entries(conditions).map(([input, condition]) => (
        <OneCondition
          key={input}
          input={input}
          condition={condition}
          isFlag={inputs[input]?.kind === 'flag'}
          onChange={(to) => put({ ...conditions, [input]: to })}
          onRemove={() => put(Object.fromEntries(Object.entries(conditions).filter(([name]) => name !== input)))}
        />
      ))}
      <Choice
        caption={Object.keys(conditions).length === 0 ? 'if' : 'and'}
        label="Add a condition"
        value={undefined}
        options={free}
        unsaid="input …"
        onChange={(input) =>
          input !== null && put({ ...conditions, [input]: inputs[input]!.kind === 'flag' ? true : { above: 0 } })
        }
      />
    </div>
  );
}

function OneCondition({
  input,
  condition,
  isFlag,
  onChange,
  onRemove,
}: {
  readonly input: string;
  readonly condition: Condition;
  readonly isFlag: boolean;
  readonly onChange: (to: unknown) => void;
  readonly onRemove: () => void;
}) {
  const {
    above,
    below,
    equals,
    until,
    for: length,
  } = typeof condition === 'object' ? condition : { equals: condition };
  const test = above !== undefined ? 'above' : below !== undefined ? 'below' : 'equals';
  const than = above ?? below ?? equals;
  /** What only says that it is so is written short. */
  const write = (to: { test?: string; than?: unknown; until?: number | null; length?: unknown }) => {
    const next = { test, than, until, length, ...to };
    const others = {
      ...(typeof next.until === 'number' && next.test !== 'equals' && { until: next.until }),
      ...(next.length !== undefined && next.length !== null && { for: next.length }),
    };
    const isShort = next.test === 'equals' && Object.keys(others).length === 0;
    onChange(isShort ? next.than : { [next.test]: next.than, ...others });
  };
  const numberOf = (text: string) => (text.trim() === '' ? null : Number(text));
  const isNumber = (text: string) => Number.isFinite(Number(text));
  return (
    <span>
      <b>{input}</b>
      {isFlag ? (
        <Choice
          caption=""
          label={`${input} is`}
          value={String(than)}
          options={['true', 'false']}
          isFixed
          onChange={(to) => write({ than: to === 'true' })}
        />
      ) : (
        <>
          <Choice
            caption=""
            label={`${input}: test`}
            value={test}
            options={TESTS}
            isFixed
            onChange={(to) => write({ test: to!, until: null })}
          />
          <TypedField
            caption=""
            label={`${input} ${test}`}
            text={String(than)}
            isGood={(text) => text.trim() !== '' && isNumber(text)}
            onTake={(text) => write({ than: Number(text) })}
          />
          {test !== 'equals' && (
            <TypedField
              caption="until"
              label={`${input} until`}
              text={String(until ?? '')}
              hint={String(than)}
              isGood={isNumber}
              onTake={(text) => write({ until: numberOf(text) })}
            />
          )}
        </>
      )}
      <TypedField
        caption="for"
        label={`${input} for`}
        text={String(length ?? '')}
        hint="0f"
        isGood={isTimeText}
        onTake={(text) => write({ length: text.trim() === '' ? null : timeOf(text) })}
      />
      <Button className="icon" aria-label={`Remove the condition on ${input}`} onPress={onRemove}>
        <X size={12} aria-hidden />
      </Button>
    </span>
  );
}
