/** Small shared controls: buttons, fields, headings. Behaviour by React Aria, looks by styled-components. */
import type { ReactNode } from 'react';
import { Button as AriaButton, ToggleButton as AriaToggle, Tooltip, TooltipTrigger } from 'react-aria-components';
import type { ButtonProps, ToggleButtonProps } from 'react-aria-components';
import styled, { css } from 'styled-components';
import { steady } from './steady';

const face = css`
  display: inline-flex;
  align-items: center;
  justify-content: center;
  gap: 6px;
  height: 26px;
  padding: 0 9px;
  border: 1px solid transparent;
  border-radius: 4px;
  background: none;
  color: var(--dim);
  cursor: default;
  white-space: nowrap;
  user-select: none;
  &[data-hovered] {
    background: var(--hover);
    color: var(--text);
  }
  &[data-pressed] {
    background: var(--chosen);
  }
  &[data-selected] {
    background: var(--chosen);
    color: var(--bright);
  }
  &[data-disabled] {
    opacity: 0.45;
  }
  svg {
    width: 15px;
    height: 15px;
    flex: none;
  }
`;
const Plain = styled(AriaButton)`
  ${face}
`;
const Strong = styled(AriaButton)`
  ${face} background: var(--bright);
  color: var(--on-bright);
  font-weight: 600;
  padding: 0 11px;
  &[data-hovered] {
    background: var(--bright);
    color: var(--on-bright);
    opacity: 0.88;
  }
  &[data-pressed] {
    background: var(--bright);
    opacity: 0.75;
  }
`;
const Outline = styled(AriaButton)`
  ${face} border-color: var(--line);
  color: var(--text);
`;
const Toggle = styled(AriaToggle)`
  ${face}
`;
const Tip = styled(Tooltip)`
  background: var(--deep);
  color: #f0f0f0;
  border: 1px solid #555;
  border-radius: 4px;
  padding: 4px 8px;
  font-size: 12px;
  max-width: 260px;
  z-index: 50;
`;

export interface TipProps {
  /** Shown on hover and focus; a shortcut stands in brackets at its end. */
  tip?: string | undefined;
}
function withTip(tip: string | undefined, child: ReactNode): ReactNode {
  if (!tip) return child;
  return (
    <TooltipTrigger delay={600}>
      {child}
      <Tip offset={6}>{tip}</Tip>
    </TooltipTrigger>
  );
}
type Look = ButtonProps & TipProps & { look?: 'plain' | 'strong' | 'outline' };
const AnyButton = ({ tip, look = 'plain', ...p }: Look) =>
  withTip(tip, look === 'strong' ? <Strong {...p} /> : look === 'outline' ? <Outline {...p} /> : <Plain {...p} />);
const AnyToggle = ({ tip, ...p }: ToggleButtonProps & TipProps) => withTip(tip, <Toggle {...p} />);
export const Button = steady(AnyButton);
export const ToggleButton = steady(AnyToggle);

export const IconButton = steady(styled(AnyButton)`
  width: 24px;
  height: 24px;
  padding: 0;
`);
export const SmallHead = styled.h2`
  display: flex;
  align-items: center;
  justify-content: space-between;
  font-size: 12px;
  font-weight: 600;
  color: var(--dim);
  height: 30px;
  padding: 0 6px 0 14px;
`;
/** A row of a form: what it is, then its control. */
export const Line = styled.div`
  display: flex;
  align-items: center;
  gap: 6px;
  height: 28px;
  > span:first-child {
    flex: 1;
  }
`;
export const Dim = styled.span`
  color: var(--dim);
  font-size: 12px;
`;
export const TextField = styled.input`
  height: 24px;
  min-width: 0;
  padding: 0 6px;
  border: 1px solid var(--line);
  border-radius: 3px;
  background: var(--well);
  color: var(--text);
`;
export const Select = styled.select`
  height: 24px;
  padding: 0 4px;
  border: 1px solid var(--line);
  border-radius: 3px;
  background: var(--well);
  color: var(--text);
`;
export const Switch = styled(AriaToggle)`
  width: 26px;
  height: 15px;
  padding: 0;
  border: 1px solid var(--track);
  border-radius: 8px;
  background: var(--well);
  position: relative;
  flex: none;
  &::after {
    content: '';
    position: absolute;
    left: 2px;
    top: 2px;
    width: 9px;
    height: 9px;
    border-radius: 50%;
    background: var(--track);
  }
  &[data-selected] {
    background: var(--dim);
    border-color: var(--dim);
  }
  &[data-selected]::after {
    left: 13px;
    background: var(--on-bright);
  }
`;
