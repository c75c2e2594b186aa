// @vitest-environment happy-dom
import { act } from 'react';
import type { ReactNode } from 'react';
import { createRoot } from 'react-dom/client';
import { expect, test } from 'vitest';
import { sameNode, steady } from './steady';

declare global {
  var IS_REACT_ACT_ENVIRONMENT: boolean;
}

const Icon = ({ size }: { size: number }) => <svg width={size} />;
test('nodes are the same by what they show, whoever made them', () => {
  const press = () => {};
  const alike = [
    ['Take away', 'Take away'],
    [<Icon size={15} />, <Icon size={15} />],
    [
      [<Icon size={15} />, ' Add'],
      [<Icon size={15} />, ' Add'],
    ],
    [<b style={{ width: 1 }} />, <b style={{ width: 1 }} />],
    [
      <b>
        <i>x</i>
      </b>,
      <b>
        <i>x</i>
      </b>,
    ],
    [<b onClick={press} />, <b onClick={press} />],
    [null, null],
  ] as const;
  for (const [a, b] of alike) expect(sameNode(a, b)).toBe(true);
  const different = [
    ['Take away', 'Add'],
    [<Icon size={15} />, <Icon size={16} />],
    [<Icon size={15} />, <b />],
    [<b key="1" />, <b key="2" />],
    [[<Icon size={15} />], [<Icon size={15} />, ' Add']],
    [<b style={{ width: 1 }} />, <b style={{ width: 2 }} />],
    [<b style={{ width: 1 }} />, <b style={{ width: 1, height: 1 }} />],
    [<b title={undefined} />, <b lang="en" />],
    [<b>x</b>, <b>y</b>],
    // A function inside a node may show something else: nobody calls the newest one for it.
    [<b onClick={() => {}} />, <b onClick={() => {}} />],
    [null, undefined],
  ] as const;
  for (const [a, b] of different) expect(sameNode(a, b)).toBe(false);
});

test('it is drawn anew only when something seen changed, and calls the newest handler', () => {
  globalThis.IS_REACT_ACT_ENVIRONMENT = true;
  let drawn = 0;
  const Press = steady(function Press(p: { onPress: () => void; children: ReactNode; on?: boolean }) {
    drawn++;
    return (
      <button onClick={p.onPress} data-on={p.on}>
        {p.children}
      </button>
    );
  });
  const place = document.body.appendChild(document.createElement('div'));
  const root = createRoot(place);
  const pressed: number[] = [];
  const show = (n: number, text: string): void =>
    act(() =>
      root.render(
        <Press onPress={() => pressed.push(n)}>
          <Icon size={15} />
          {text}
        </Press>,
      ),
    );
  show(1, 'Add');
  show(2, 'Add');
  expect(drawn).toBe(1);
  place.querySelector('button')!.click();
  expect(pressed).toEqual([2]);
  show(3, 'Take away');
  expect(drawn).toBe(2);
  expect(place.textContent).toBe('Take away');
  act(() => root.unmount());
});
