/** Drag and drop of a list. The library writes styles while something is dragged: they need the page's nonce. */
import { Accessibility, defaultPreset, StyleInjector } from '@dnd-kit/dom';
import { DragDropProvider } from '@dnd-kit/react';
import { isSortable } from '@dnd-kit/react/sortable';
import type { ReactNode } from 'react';
import { nonce } from './nonce';

/**
 * Lists are moved by keys of their own (Alt and arrows): the library's attributes for that would say something
 * else.
 */
const plugins = [...defaultPreset.plugins.filter((p) => p !== Accessibility), StyleInjector.configure({ nonce })];

/** Sideways by so many pixels is meant. */
const SIDEWAYS = 28;
/**
 * `onMove`: the id of what was dragged, the place where it was let go, and whether it was drawn to the right or to
 * the left on the way.
 */
export function Reorder({
  onMove,
  children,
}: {
  onMove: (id: string, to: number, drawn: 'left' | 'right' | null) => void;
  children: ReactNode;
}) {
  return (
    <DragDropProvider
      plugins={plugins}
      onDragEnd={(e) => {
        const src = e.operation.source;
        if (e.canceled || !isSortable(src)) return;
        const { x } = e.operation.transform;
        const drawn = x > SIDEWAYS ? 'right' : x < -SIDEWAYS ? 'left' : null;
        if (drawn || src.index !== src.initialIndex) onMove(String(src.id), src.index, drawn);
      }}
    >
      {children}
    </DragDropProvider>
  );
}
