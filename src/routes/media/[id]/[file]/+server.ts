import { numberOf, respond } from '$lib/server/api';
import { notFound } from '$lib/server/refusal';
import { readPicture } from '$lib/server/services/media';
import type { RequestHandler } from './$types';

export const GET: RequestHandler = async ({ params }) => {
  let sent: Response | undefined;
  const refused = await respond(async () => {
    const width = /^(\d{2,4})\.webp$/.exec(params.file)?.[1];
    if (!width && params.file !== 'original') throw notFound('file of this name');
    const { bytes, mime } = await readPicture(numberOf(params.id), width ? Number(width) : undefined);
    sent = new Response(new Uint8Array(bytes), {
      headers: {
        'content-type': mime,
        'cache-control': 'public, max-age=31536000, immutable',
        'content-security-policy': "default-src 'none'",
      },
    });
  });
  return sent ?? refused;
};
