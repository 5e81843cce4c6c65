import { Lightbulb, TriangleAlert } from 'lucide-react';
import { Button, Dialog, DialogTrigger, Popover } from 'react-aria-components';
import { useAdviceAt } from '../model/advice.js';
import { AdviceItem } from './AdviceItem.js';

/** A mark beside the subject of advice; pressed, it shows the advice and its fix. Renders nothing without advice. */
export function AdviceMark({ place, message }: { readonly place: string; readonly message: string }) {
  const advice = useAdviceAt(place);
  if (advice.length === 0) return null;
  const Icon = advice.some(({ severity }) => severity !== 'advice') ? TriangleAlert : Lightbulb;
  return (
    <DialogTrigger>
      <Button className="advice-mark" aria-label={`Advice on ${message}: ${advice.length}`}>
        <Icon size={13} aria-hidden />
      </Button>
      <Popover className="popover" placement="bottom">
        <Dialog className="advice-dialog" aria-label={`Advice on ${message}`}>
          <ul>
            {advice.map((one) => (
              <AdviceItem key={`${one.code} ${one.path}`} one={one} />
            ))}
          </ul>
        </Dialog>
      </Popover>
    </DialogTrigger>
  );
}
