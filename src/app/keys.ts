/** The shortcuts sheet and what answers to it come from the same list. */
export interface Shortcut {
  keys: string;
  does: string;
}
export const shortcuts: { title: string; list: Shortcut[] }[] = [
  {
    title: 'Everywhere',
    list: [
      { keys: 'Ctrl Z', does: 'Undo' },
      { keys: 'Ctrl Shift Z', does: 'Redo' },
      { keys: '?', does: 'This sheet' },
      { keys: 'Arrows', does: 'Step a slider, a handle or the cross' },
      { keys: 'Enter', does: 'On the picture: places the cross' },
      { keys: 'Shift, Alt', does: 'Coarse, fine' },
      { keys: 'Delete', does: 'Slider or wheel back to its default' },
      { keys: 'Escape', does: 'Leave a tool; restore during a drag' },
    ],
  },
  {
    title: 'Time (clips and sequences)',
    list: [
      { keys: 'Space, K', does: 'Play or pause; pause' },
      { keys: 'L, J', does: 'Forwards, backwards; again: faster' },
      { keys: '\u2190 \u2192', does: 'A frame back, on (Shift: ten)' },
      { keys: 'Home, End', does: 'First, last frame of the shot' },
      { keys: 'I, Shift I', does: 'The shot begins, ends here' },
      { keys: 'Shift K', does: 'A key here, or none any more' },
      { keys: 'Shift J, L', does: 'Key before, after' },
      { keys: ';', does: 'A marker here, or none any more' },
      { keys: ',  .', does: 'Marker before, after' },
    ],
  },
  {
    title: 'Isolate and measure',
    list: [
      { keys: 'N, M', does: 'New correction; new base correction' },
      { keys: 'C', does: 'Sample a colour key on the picture' },
      { keys: 'G, Shift G', does: 'Paint a spread: what is meant; what is not' },
      { keys: 'Shift C, X', does: 'Add to the key; take away from it' },
      { keys: 'E, Shift E, D', does: 'Ellipse; box; freeform' },
      { keys: 'Y, Shift Y', does: 'Ramp; band' },
      { keys: 'P, U', does: 'Patch to measure: a box, freeform' },
      { keys: 'H', does: 'Place a chart' },
      { keys: 'T', does: 'Bring to line (in Correct)' },
      { keys: 'Shift T', does: 'Press on skin: its region, a patch and the push' },
      { keys: 'Enter, arrows', does: 'What a press found: take it; strength, reach' },
      { keys: '[  ]', does: 'Correction before, after' },
      { keys: 'Alt \u2191 \u2193', does: 'On a correction: move it' },
      { keys: 'Alt \u2190 \u2192', does: 'On a correction: after, beside' },
      { keys: 'Alt 1 \u2026 4', does: 'Isolate, Tidy, Correct, Check' },
    ],
  },
  {
    title: 'Look',
    list: [
      { keys: '1 \u2026 6', does: 'Picture, Cut-out, Matte, Tint, Change, Edge' },
      { keys: 'O', does: 'The next of them' },
      { keys: 'Z held', does: 'The matte (or the picture), as long as it is held' },
      { keys: 'B', does: 'Before, after' },
      { keys: 'W', does: 'Wipe; the knob on its edge turns it' },
      { keys: 'Shift W', does: 'Blink: before and after in turn' },
      { keys: 'S', does: 'Side by side' },
      { keys: 'Shift H', does: 'Hold this frame, to compare others with it' },
      { keys: 'V', does: 'False colours: levels, off-line, chroma, clipped' },
      { keys: 'F', does: 'Fit or full size' },
      { keys: 'Shift F', does: 'Hold still what follows; let it move' },
      { keys: '+  \u2212', does: 'Zoom' },
      { keys: 'R', does: 'Readings' },
      { keys: 'Q', does: 'Picture and scopes alone' },
      { keys: 'A', does: 'Picture alone' },
    ],
  },
];
/** True while a person types or a dialog is open: single letters are theirs. */
export function isTyping(e: KeyboardEvent): boolean {
  const t = e.target as HTMLElement | null;
  return (
    !!t &&
    (t.isContentEditable ||
      t.tagName === 'SELECT' ||
      t.tagName === 'TEXTAREA' ||
      (t.tagName === 'INPUT' && (t as HTMLInputElement).type !== 'range') ||
      !!t.closest('[role="dialog"], [role="menu"]'))
  );
}
