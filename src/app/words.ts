/** Faults in words for people: what the machine says of itself goes to the console, never to the screen. */
const INTERNAL = /^(TypeError|ReferenceError|SyntaxError|URIError|EvalError|InternalError|AggregateError)$/;
/** What browsers throw when a file or the storage is not what it was. */
const BROWSER: Readonly<Record<string, string>> = {
  NotReadableError: 'it cannot be read any more: it was moved, changed or removed. Choose it again',
  NotFoundError: 'it is not there any more: it was moved or removed. Choose it again',
  QuotaExceededError: "the browser's storage is full: free some room under Storage on Shots",
  NotAllowedError: 'the browser does not allow it: see to its settings for this page',
  SecurityError: 'the browser does not allow it: see to its settings for this page',
  DataCloneError: 'it needs more memory than the browser gives: close other tabs or use a smaller picture',
};

/** One line for a message; a remedy that the fault carries is part of it. */
export function wordsOf(e: unknown): string {
  const {
    name = '',
    message = '',
    reply,
  } = (e ?? {}) as {
    name?: string;
    message?: string;
    reply?: { remedy?: string };
  };
  const known = BROWSER[name];
  if (known) return known;
  if (INTERNAL.test(name) || message === '' || (e instanceof DOMException && !known)) {
    console.error(e);
    return 'something failed inside the application; nothing that was saved is lost. Try it again, or reload the page';
  }
  return reply?.remedy ? `${message.replace(/[.\s]+$/, '')}. ${reply.remedy}` : message;
}
