/** What a press found, over the picture that shows it: taken by Enter, left by Escape, arrows change it before. */
import { useEffect } from 'react';
import { Check, X } from 'lucide-react';
import styled from 'styled-components';
import { Button } from '../../ui/controls';
import { isTyping } from '../keys';
import { changePress, foundSaid, leavePress, takePress, usePress } from '../press';

const Box = styled.div`
  position: absolute;
  left: 50%;
  top: 10px;
  transform: translateX(-50%);
  width: min(560px, 94%);
  background: rgb(20 20 20 / 90%);
  color: #f2f2f2;
  padding: 8px 12px;
  border-radius: 5px;
  font-size: 13px;
  cursor: default;
  p {
    margin: 0 0 6px;
  }
  div {
    display: flex;
    align-items: center;
    gap: 10px;
    flex-wrap: wrap;
  }
  small {
    color: #bdbdbd;
    font-size: 12px;
    margin-bottom: 4px;
  }
  div > span {
    display: flex;
    align-items: center;
    gap: 2px;
    font-variant-numeric: tabular-nums;
  }
  button {
    color: #f2f2f2;
  }
`;
const STEP = 10;
function Amount({ name, value, on }: { name: string; value: number; on: (by: number) => void }) {
  return (
    <span>
      {name}
      <Button aria-label={`Less ${name.toLowerCase()}`} onPress={() => on(-STEP)}>
        {'\u2212'}
      </Button>
      <b data-press={name.toLowerCase()}>{value} %</b>
      <Button aria-label={`More ${name.toLowerCase()}`} onPress={() => on(STEP)}>
        +
      </Button>
    </span>
  );
}
export function PressBar() {
  const { press, asking } = usePress();
  const there = press !== null;
  useEffect(() => {
    if (!there) return;
    const key = (e: KeyboardEvent): void => {
      if (isTyping(e) || e.ctrlKey || e.metaKey || e.altKey) return;
      const onButton = (e.target as HTMLElement | null)?.closest('button, a') && (e.key === 'Enter' || e.key === ' ');
      const does: Record<string, () => void> = {
        Enter: takePress,
        Escape: leavePress,
        ArrowUp: () => void changePress({ strengthPct: STEP }),
        ArrowDown: () => void changePress({ strengthPct: -STEP }),
        ArrowRight: () => void changePress({ reachPct: STEP }),
        ArrowLeft: () => void changePress({ reachPct: -STEP }),
      };
      const f = does[e.key];
      if (!f || onButton) return;
      e.preventDefault();
      e.stopPropagation();
      f();
    };
    window.addEventListener('keydown', key, true);
    return () => window.removeEventListener('keydown', key, true);
  }, [there]);
  // Another shot, or none: nothing stays behind.
  useEffect(() => leavePress, []);
  if (!press) return null;
  return (
    <Box
      role="region"
      aria-label="What the press found"
      aria-busy={asking}
      onPointerDown={(e) => e.stopPropagation()}
      onPointerMove={(e) => e.stopPropagation()}
    >
      <p role="status">{foundSaid(press.correction.name, press.found)}</p>
      <div>
        <small>Enter takes it, Escape leaves it; up, down: strength; left, right: reach; 3, 4: the region.</small>
      </div>
      <div>
        <Amount name="Strength" value={press.strengthPct} on={(by) => void changePress({ strengthPct: by })} />
        <Amount name="Reach" value={press.reachPct} on={(by) => void changePress({ reachPct: by })} />
        <i style={{ flex: 1 }} />
        <Button look="outline" onPress={takePress} tip="One correction, one undo (Enter)">
          <Check />
          Take it
        </Button>
        <Button onPress={leavePress} tip="Nothing of it stays (Escape)">
          <X />
          Leave it
        </Button>
      </div>
    </Box>
  );
}
