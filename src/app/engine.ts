import { loadPicture, loadTable } from './demo';
import { EngineClient } from './engineClient';

let client: EngineClient | null = null;
/** The one engine of this page, started at first use. */
export const engine = (): EngineClient => (client ??= new EngineClient(loadPicture, loadTable));
