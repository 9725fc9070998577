import { aroundAll } from 'vitest';
import { runForServer } from './server';

aroundAll((runSuite) => runForServer(runSuite));
