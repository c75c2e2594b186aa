/** Drag and drop of a list. The library writes styles while something is dragged: they need the page's nonce. */
import { defaultPreset, StyleInjector } from '@dnd-kit/dom';
import { DragDropProvider } from '@dnd-kit/react';
import { isSortable } from '@dnd-kit/react/sortable';
import type { ReactNode } from 'react';
import { nonce } from './nonce';

const plugins = [...defaultPreset.plugins, StyleInjector.configure({ nonce })];

/** `onMove`: the id of what was dragged, and the place where it was let go. */
export function Reorder({ onMove, children }: { onMove: (id: string, to: number) => void; children: ReactNode }) {
  return (
    <DragDropProvider
      plugins={plugins}
      onDragEnd={(e) => {
        const src = e.operation.source;
        if (!e.canceled && isSortable(src) && src.index !== src.initialIndex) onMove(String(src.id), src.index);
      }}
    >
      {children}
    </DragDropProvider>
  );
}
