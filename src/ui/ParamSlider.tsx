/**
 * One parameter: label, track, typed number. Arrow keys step (Shift coarse, Alt fine), Home and End go to the ends,
 * double click goes to the default, Escape during a drag restores. A drag is one gesture.
 */
import { memo, useRef } from 'react';
import { Slider, SliderThumb, SliderTrack } from 'react-aria-components';
import styled from 'styled-components';
import type { NumSpec } from '../core/op/params';
import { NumberBox } from './NumberBox';

const Row = styled(Slider)`
  display: grid;
  grid-template-columns: 92px 1fr 58px;
  gap: 8px;
  align-items: center;
  height: 28px;
`;
const Name = styled.span`
  white-space: nowrap;
  overflow: hidden;
  text-overflow: ellipsis;
`;
const Track = styled(SliderTrack)`
  height: 24px;
  position: relative;
  &::before {
    content: '';
    position: absolute;
    left: 0;
    right: 0;
    top: 11px;
    height: 3px;
    border-radius: 2px;
    background: var(--track);
  }
  &::after {
    content: '';
    position: absolute;
    left: var(--zero);
    width: 1px;
    top: 8px;
    height: 9px;
    background: var(--track);
  }
`;
const Thumb = styled(SliderThumb)`
  width: 9px;
  height: 15px;
  border-radius: 2.5px;
  background: var(--bright);
  top: 12px;
  box-shadow: 0 0 0 1px rgb(0 0 0 / 45%);
`;

export interface Gesture {
  onBegin(): void;
  onEnd(): void;
  onBail(): void;
}
export interface ParamSliderProps extends Gesture {
  spec: Pick<NumSpec, 'min' | 'max' | 'ui' | 'unit' | 'step' | 'default' | 'label' | 'doc'>;
  value: number;
  label?: string;
  onChange(v: number): void;
}

export const suffixOf = (unit: NumSpec['unit']): string =>
  ({ deg: '\u00b0', pct: ' %', px: ' px', stops: ' st', signal: '', none: '' })[unit];
const digitsOf = (step: number): number => (step >= 1 ? 0 : step >= 0.1 ? 1 : step >= 0.01 ? 2 : 3);

function ParamSliderView({ spec, value, label = spec.label, onChange, onBegin, onEnd, onBail }: ParamSliderProps) {
  const dragging = useRef(false);
  const bailed = useRef(false);
  const [lo, hi] = [Math.min(spec.ui[0], value), Math.max(spec.ui[1], value)];
  const digits = digitsOf(spec.step);
  const fine = 10 ** -Math.max(1, digits + 1);
  const set = (v: number): void => {
    const limited = Math.min(spec.max, Math.max(spec.min, Math.round(v / fine) * fine));
    onChange(Number(limited.toFixed(6)));
  };
  const once = (v: number): void => {
    onBegin();
    set(v);
    onEnd();
  };
  const zero = `${(((Math.min(hi, Math.max(lo, spec.default)) - lo) / (hi - lo)) * 100).toFixed(2)}%`;
  return (
    <Row
      aria-label={label}
      minValue={lo}
      maxValue={hi}
      step={fine}
      value={value}
      onChange={(v) => {
        if (bailed.current) return;
        if (!dragging.current) {
          dragging.current = true;
          onBegin();
        }
        set(v as number);
      }}
      onChangeEnd={() => {
        if (dragging.current) onEnd();
        dragging.current = bailed.current = false;
      }}
    >
      <Name title={spec.doc}>{label}</Name>
      <div
        onDoubleClick={() => once(spec.default)}
        onKeyDownCapture={(e) => {
          const dir = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[e.key];
          if (dir !== undefined) {
            e.preventDefault();
            e.stopPropagation();
            once(value + dir * spec.step * (e.shiftKey ? 10 : e.altKey ? 0.1 : 1));
          } else if (e.key === 'Escape' && dragging.current) {
            e.stopPropagation();
            dragging.current = false;
            bailed.current = true;
            onBail();
          } else if (e.key === 'Delete' || e.key === 'Backspace') {
            e.preventDefault();
            e.stopPropagation();
            once(spec.default);
          }
        }}
      >
        <Track style={{ '--zero': zero } as React.CSSProperties}>
          <Thumb aria-label={label} />
        </Track>
      </div>
      <NumberBox
        label={`${label}, typed`}
        value={value}
        min={spec.min}
        max={spec.max}
        digits={digits}
        suffix={suffixOf(spec.unit)}
        signed={spec.min < 0 && spec.unit !== 'px'}
        onChange={once}
      />
    </Row>
  );
}

/**
 * Drawn again only when what it shows changed. The callbacks are not compared: whoever uses a slider gives it a key
 * that
 * changes with what it acts on, so older callbacks act on the same.
 */
export const ParamSlider = memo(
  ParamSliderView,
  (a, b) =>
    a.value === b.value &&
    a.label === b.label &&
    a.spec.label === b.spec.label &&
    a.spec.min === b.spec.min &&
    a.spec.max === b.spec.max &&
    a.spec.ui[0] === b.spec.ui[0] &&
    a.spec.ui[1] === b.spec.ui[1],
);
