import { databaseAnswers } from '../queries/site';
import { listsArePrewarmed } from './prewarm-lists';
import { checkFolder } from '../services/start-problems';

/** Whether this process can answer everybody as fast as ever: its database answers, files can be written, and lists are laid out. */
export async function readiness(): Promise<{ ready: boolean; lacks: string[] }> {
  const [database, files] = await Promise.all([
    databaseAnswers(),
    checkFolder().then(
      () => true,
      () => false,
    ),
  ]);
  const lacks = [
    ...(database ? [] : ['the database']),
    ...(files ? [] : ['the folder of files']),
    ...(listsArePrewarmed() ? [] : ['the lists of the site']),
  ];
  return { ready: !lacks.length, lacks };
}
