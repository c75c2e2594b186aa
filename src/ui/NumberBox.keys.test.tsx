// @vitest-environment happy-dom
import { act } from 'react';
import { createRoot } from 'react-dom/client';
import { expect, test } from 'vitest';
import { NumberBox } from './NumberBox';

declare global {
  var IS_REACT_ACT_ENVIRONMENT: boolean;
}

/** A box in its place; keys go where the focus is, as a keyboard's do, and what reaches the place is told. */
async function boxIn(role: 'dialog' | 'group') {
  globalThis.IS_REACT_ACT_ENVIRONMENT = true;
  const set: number[] = [];
  const heard: string[] = [];
  const host = document.body.appendChild(document.createElement('div'));
  const root = createRoot(host);
  await act(async () =>
    root.render(
      <div role={role} tabIndex={-1} onKeyDown={(e) => heard.push(e.key)}>
        <NumberBox label="Radius" value={2} min={0} max={9} digits={0} suffix=" px" onChange={(v) => set.push(v)} />
      </div>,
    ),
  );
  const input = host.querySelector('input')!;
  await act(async () => input.focus());
  const type = (text: string) =>
    act(async () => {
      Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!.call(input, text);
      input.dispatchEvent(new Event('input', { bubbles: true }));
    });
  const press = (key: string) =>
    act(async () => {
      (document.activeElement ?? document.body).dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
    });
  const end = () => act(async () => root.unmount());
  return { input, set, heard, type, press, end };
}

test('in a dialog Enter takes it once and stays, so that an Escape right after it reaches the dialog', async () => {
  const { input, set, heard, type, press, end } = await boxIn('dialog');
  await type('7');
  await press('Enter');
  expect(set).toEqual([7]);
  expect(document.activeElement).toBe(input);
  await press('Escape');
  expect(heard).toEqual(['Escape']);
  await act(async () => input.blur());
  expect(set).toEqual([7]);
  await end();
});

test('in a dialog the first Escape is for what was typed, the second for the dialog', async () => {
  const { input, set, heard, type, press, end } = await boxIn('dialog');
  await type('7');
  await press('Escape');
  expect([input.value, set, heard]).toEqual(['2 px', [], []]);
  await press('Escape');
  expect([set, heard]).toEqual([[], ['Escape']]);
  await end();
});

test('elsewhere Enter takes it once and leaves the box to the shortcuts', async () => {
  const { input, set, type, press, end } = await boxIn('group');
  await type('7');
  await press('Enter');
  expect(set).toEqual([7]);
  expect(document.activeElement).not.toBe(input);
  await end();
});
