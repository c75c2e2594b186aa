/** Everything a back end can be asked to do with planes, by name. */
import { framePass, tidyArea } from './areas';
import { beside, chain, join, key, shape, tidyPoint } from './pixels';
import { halve, planar, resize, yuv } from './planes';
import { codes } from './codes';
import { surround } from './figures';
import { scope } from './scope';
import type { Task } from './task';
import { view } from './view';

export const tasks = {
  key,
  shape,
  join,
  tidyPoint,
  tidyArea,
  framePass,
  chain,
  beside,
  halve,
  resize,
  planar,
  yuv,
  codes,
  scope,
  surround,
  view,
};
export type TaskName = keyof typeof tasks;
/** The order is the wire format between coordinator and helpers of one build. */
export const taskNames = Object.keys(tasks) as TaskName[];

type Of<T> = T extends Task<infer C> ? C : never;
/** What to do, with everything it needs by name: any back end can be given it. */
export type Command = { [K in TaskName]: { do: K } & Of<(typeof tasks)[K]> }[TaskName];
/** The task of a command, its type forgotten: pack and rows are only ever given that command. */
export const taskOf = (name: TaskName): Task<Command> => tasks[name] as unknown as Task<Command>;

export { scratchBytes } from './task';
export type { Rgb, TaskContext, Use } from './task';
