// A worker of Node does not inherit the loader of TypeScript: it is set up here.
import { register } from 'tsx/esm/api';

register();
await import('./decodeThread.ts');
