import { X } from 'lucide-react';
import { Button, Dialog, DialogTrigger, Popover } from 'react-aria-components';
import type { RoutineDocument, RuleExplanation } from 'unspool';
import { ruleText } from 'unspool/edit';
import { apply } from '../model/session.js';
import { OrderHandle } from '../panels/OrderHandle.js';
import { RuleFields } from './RuleFields.js';

type Rule = RoutineDocument['rules'][number];

/** What is dragged when a rule is. */
const RULE = 'application/x-rule';

/** The rules, the strongest first, each with why it plays or not. Dragged or moved by arrow keys to another place. */
export function RuleTable({
  routine,
  rules,
  reasons,
}: {
  readonly routine: string;
  readonly rules: readonly Rule[];
  readonly reasons: readonly RuleExplanation[];
}) {
  return (
    <table className="rules" aria-label={`Rules of ${routine}, the strongest first`}>
      <thead>
        <tr>
          <th scope="col">rule</th>
          <th scope="col">when → plays, and why it does or does not</th>
          <th scope="col">
            <span aria-hidden> </span>
          </th>
        </tr>
      </thead>
      <tbody>
        {rules.map((rule, i) => (
          <RuleRow
            key={rule.name}
            routine={routine}
            rules={rules}
            place={i}
            reason={reasons.find((one) => one.rule === rule.name)}
          />
        ))}
      </tbody>
    </table>
  );
}

function RuleRow({
  routine,
  rules,
  place,
  reason,
}: {
  readonly routine: string;
  readonly rules: readonly Rule[];
  readonly place: number;
  readonly reason: RuleExplanation | undefined;
}) {
  const rule = rules[place]!;
  const { name } = rule;
  const { when, plays } = ruleText(rule);
  const putBefore = (one: string, before: string | undefined) =>
    apply({ do: 'reorder', what: 'rule', routine, name: one, ...(before !== undefined && { before }) });
  const move = (by: -1 | 1) => {
    const to = place + by;
    if (to >= 0 && to < rules.length) putBefore(name, by < 0 ? rules[to]!.name : rules[to + 1]?.name);
  };
  return (
    <tr
      data-why={reason?.why}
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        const dragged = event.dataTransfer.getData(RULE);
        if (dragged === '' || dragged === name) return;
        // Downward it takes the place of the one that it is dropped on, which moves up.
        const from = rules.findIndex((one) => one.name === dragged);
        putBefore(dragged, from < place ? rules[place + 1]?.name : name);
      }}
    >
      <th scope="row">
        <span className="rule-name">
          <OrderHandle
            name={name}
            type={RULE}
            title="Drag it to another place: the first rule is the strongest"
            onMove={move}
          />
          <DialogTrigger>
            <Button className="link-name" aria-label={`${name}: what the rule says`}>
              {name}
            </Button>
            <Popover className="popover" placement="top">
              <Dialog className="fields-dialog" aria-label={`The rule ${name}`}>
                <RuleFields routine={routine} rule={rule} />
              </Dialog>
            </Popover>
          </DialogTrigger>
        </span>
        {rule.layer !== undefined && <small className="why">{rule.layer}</small>}
      </th>
      <td>
        {when} → {plays}
        {rule.free !== undefined && `, free from ${rule.free}`}
        <br />
        <small className="why">{reason?.text}</small>
      </td>
      <td>
        <Button
          className="icon"
          aria-label={`Remove the rule ${name}`}
          isDisabled={rules.length === 1}
          onPress={() => apply({ do: 'remove', what: 'rule', routine, name })}
        >
          <X size={12} aria-hidden />
        </Button>
      </td>
    </tr>
  );
}
