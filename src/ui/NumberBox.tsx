/**
 * A typed number: Enter or leaving takes it, Escape restores, a wrong one says what is allowed.
 *
 * Enter and Escape leave the box, so that shortcuts are heard again. In a dialog they do not: the focus would be
 * nowhere until the dialog takes it back a frame later, and an Escape meant for the dialog would be lost.
 */
import { useEffect, useRef, useState } from 'react';
import styled from 'styled-components';
import { formatNumber } from '../core/op/words';

export { formatNumber } from '../core/op/words';

const Box = styled.input`
  width: 100%;
  min-width: 0;
  height: 22px;
  padding: 0 4px;
  text-align: right;
  border: 1px solid transparent;
  border-radius: 3px;
  background: none;
  color: var(--text);
  &:hover {
    border-color: var(--line);
  }
  &:focus {
    border-color: var(--dim);
    background: var(--well);
    outline: none;
  }
  &[aria-invalid='true'] {
    border-color: var(--bright);
    border-style: dashed;
  }
`;

export interface NumberBoxProps {
  label: string;
  value: number;
  min: number;
  max: number;
  digits: number;
  suffix: string;
  signed?: boolean;
  onChange(v: number): void;
}

/** Takes "-3,5", a true minus sign and a trailing unit; null when it is no number. */
export function parseNumber(text: string): number | null {
  const m = /^\s*([+\-\u2212]?)\s*(\d*[.,]?\d+|\d+[.,]?)\s*[%\u00b0a-z]*\s*$/i.exec(text);
  if (!m) return null;
  const v = Number(m[2]!.replace(',', '.'));
  return Number.isFinite(v) ? (m[1] === '-' || m[1] === '\u2212' ? -v : v) : null;
}

export function NumberBox({ label, value, min, max, digits, suffix, signed, onChange }: NumberBoxProps) {
  const shown = `${formatNumber(value, digits, signed)}${suffix}`;
  const [text, setText] = useState<string | null>(null);
  const ref = useRef<HTMLInputElement>(null);
  const taken = useRef(false);
  useEffect(() => setText(null), [value]);
  // Taken and still in the box: the next digit begins a new number.
  useEffect(() => {
    if (!taken.current || text !== null) return;
    taken.current = false;
    if (document.activeElement === ref.current) ref.current?.select();
  });
  const parsed = text === null ? value : parseNumber(text);
  const bad = parsed === null || parsed < min || parsed > max;
  const why = bad ? `A number from ${min} to ${max}` : '';
  const take = (): void => {
    if (text !== null && !bad && parsed !== value) onChange(parsed);
    setText(null);
  };
  return (
    <Box
      ref={ref}
      aria-label={label}
      aria-invalid={bad}
      title={why}
      inputMode="decimal"
      value={text ?? shown}
      onFocus={(e) => {
        const el = e.currentTarget;
        el.select();
        // The mouse button's rise would put the caret back.
        requestAnimationFrame(() => document.activeElement === el && text === null && el.select());
      }}
      onChange={(e) => setText(e.target.value)}
      onBlur={take}
      onKeyDown={(e) => {
        // With nothing typed, Escape is for what the box stands in: it closes.
        if (e.key !== 'Escape' || text !== null) e.stopPropagation();
        if (e.key !== 'Enter' && e.key !== 'Escape') return;
        const stays = e.currentTarget.closest('[role="dialog"]') !== null;
        if (e.key === 'Escape') {
          setText(null);
          if (!stays) requestAnimationFrame(() => ref.current?.blur());
        } else if (stays) {
          taken.current = text !== null;
          take();
        }
        // Leaving takes it; taken here as well it would be two steps to undo.
        else ref.current?.blur();
      }}
    />
  );
}
