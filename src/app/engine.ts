import { loadTable, sourceOf } from './opening';
import { sayError } from './notices';
import { EngineClient } from './engineClient';

let client: EngineClient | null = null;
/** The one engine of this page, started at first use. */
export const engine = (): EngineClient => (client ??= new EngineClient(sourceOf, loadTable, sayError));
