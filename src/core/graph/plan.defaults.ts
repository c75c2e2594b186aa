/** New operations as a document stores them. */
import { opById } from './plan';
import type { OpUse } from './plan';
import type { StoredValues } from '../op/params';

export function newUse(id: string, op: string, params: StoredValues = {}, on = true): OpUse {
  return { id, op, version: opById(op).version, on, params };
}
