/** The one database and the one file store of this page. */
import { Store } from './db';
import { FileStore } from './fileStore';

export const db = new Store();
export const files = new FileStore(db.files);
