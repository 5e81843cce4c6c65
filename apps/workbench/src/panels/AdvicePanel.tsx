import { useStore } from '../model/store.js';
import { AdviceItem } from '../time/AdviceItem.js';

export function AdvicePanel() {
  const advice = useStore((state) => state.advice);
  if (advice.length === 0) return <p className="empty">No errors, no warnings, no advice.</p>;
  return (
    <ul className="advice-list" aria-label="Advice">
      {advice.map((one) => (
        <AdviceItem key={`${one.code} ${one.path}`} one={one} />
      ))}
    </ul>
  );
}
