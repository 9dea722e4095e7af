import { pathToFileURL } from 'node:url';
import { shellCommand } from './bundle.mjs';

/** `npm run -s reed -- …`: the command, from one file that is made anew where its sources have changed. */
await import(pathToFileURL(await shellCommand()).href);
