import { enterServer } from '../src/lib/server/application/create-server';
import { entryLink, firstLink } from '../src/lib/server/people/first-link';
import { DESIGNER } from './people';

// Prints the link with which somebody comes in first: the designer of the demo, or whoever makes the first account.
const server = enterServer();
const { origin = '', demo } = server.configuration;
try {
  const first = await firstLink(origin);
  const entry = first === undefined && demo ? await entryLink(origin, DESIGNER) : undefined;
  console.log(
    first
      ? `Make the first account here (good once, for an hour): ${first}`
      : entry
        ? `Sign in as the designer (good once, for an hour): ${entry}`
        : 'Sign in there with your account.',
  );
} finally {
  await server.close();
}
