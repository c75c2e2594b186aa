/** What a thread answered instead of a result: a code, a message, a remedy. */
import type { ErrorReply } from '../protocol/messages';

export class EngineError extends Error {
  override name = 'EngineError';
  constructor(readonly reply: ErrorReply) {
    super(reply.message);
  }
}
