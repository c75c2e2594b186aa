/** Components that are drawn anew only when something they show has changed. */
import { isValidElement, memo, useLayoutEffect, useRef } from 'react';
import type { ComponentType, FC, ReactElement, ReactNode } from 'react';

type Props = Record<string, unknown>;
type Heard = (...args: unknown[]) => unknown;
const isHandler = (key: string, x: unknown): x is Heard => typeof x === 'function' && /^on[A-Z]/.test(key);

/** Whether two nodes show the same: by what they are made of, not by who made them. */
export function sameNode(a: ReactNode, b: ReactNode): boolean {
  if (Object.is(a, b)) return true;
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((x, i) => sameNode(x, b[i]));
  return isValidElement(a) && isValidElement(b) && a.type === b.type && a.key === b.key && sameProps(a, b);
}
const sameProps = (a: ReactElement, b: ReactElement): boolean => same(a.props as Props, b.props as Props);
const flat = (x: unknown): x is Props => typeof x === 'object' && x !== null && !Array.isArray(x) && !isValidElement(x);
/** One level deep for objects such as a style; nodes as `sameNode`. */
function same(a: Props, b: Props): boolean {
  const keys = Object.keys(a);
  return (
    keys.length === Object.keys(b).length &&
    keys.every((k) => {
      const [x, y] = [a[k], b[k]];
      if (Object.is(x, y)) return k in b;
      if (k === 'children') return sameNode(x as ReactNode, y as ReactNode);
      if (k !== 'style' || !flat(x) || !flat(y)) return false;
      const inner = Object.keys(x);
      return inner.length === Object.keys(y).length && inner.every((i) => Object.is(x[i], y[i]));
    })
  );
}

/**
 * `Inner`, drawn anew only for props that differ in what is seen. Handlers (`onPress` and the like) may be made anew
 * each time: the newest one is called. A drag of a slider draws the panel round it sixty times a second; its buttons
 * are then left alone.
 */
export function steady<P extends object>(Inner: ComponentType<P>): FC<P> {
  const Kept = memo(Inner as ComponentType<Props>, (a, b) => same(a as Props, b as Props));
  function Steady(props: P) {
    const newest = useRef(props as Props);
    useLayoutEffect(() => {
      newest.current = props as Props;
    });
    const held = useRef<Record<string, Heard>>({});
    const given: Props = {};
    for (const [k, x] of Object.entries(props))
      given[k] = isHandler(k, x)
        ? (held.current[k] ??= (...args) => (newest.current[k] as Heard | undefined)?.(...args))
        : x;
    return <Kept {...given} />;
  }
  Steady.displayName = `steady(${Inner.displayName ?? Inner.name})`;
  return Steady;
}
