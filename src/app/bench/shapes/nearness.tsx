/** A key has strokes where it is set by them. */
export { default } from './spread';
