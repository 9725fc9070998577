import { createServer } from 'node:http';
import { simpleParser } from 'mailparser';
import { SMTPServer } from 'smtp-server';

/**
 * A mail server that sends nothing on: whatever it is given lies in an outbox to look at. Ships with the application for
 * the demo and the tests; in production there is a real one.
 *
 * @param {{ smtp?: number, http?: number }} [ports] ports on loopback; any that are free where none are given
 */
export async function startMailServer({ smtp = 0, http = 0 } = {}) {
  /** @type {{ to: string, subject: string, text: string, moment: string }[]} */
  const letters = [];
  const taker = new SMTPServer({
    authOptional: true,
    disabledCommands: ['STARTTLS'],
    onData(stream, _session, done) {
      simpleParser(stream).then(
        ({ to, subject, text }) => {
          const address = to && !Array.isArray(to) ? to.text : '';
          letters.unshift({ to: address, subject: subject ?? '', text: text ?? '', moment: new Date().toISOString() });
          letters.length = Math.min(letters.length, 200);
          done();
        },
        (error) => done(error),
      );
    },
  });
  const outbox = createServer((request, response) => {
    if (request.url?.startsWith('/letters')) {
      response.setHeader('content-type', 'application/json');
      response.end(JSON.stringify(letters));
      return;
    }
    response.setHeader('content-type', 'text/html; charset=utf-8');
    response.setHeader('content-security-policy', "default-src 'none'; style-src 'unsafe-inline'");
    response.end(page(letters));
  });
  await new Promise((done) => taker.listen(smtp, '127.0.0.1', () => done(undefined)));
  await new Promise((done) => outbox.listen(http, '127.0.0.1', () => done(undefined)));
  const portOf = (/** @type {unknown} */ address) => /** @type {{ port: number }} */ (address).port;
  return {
    /** What `PLUM_MAIL` says. */
    url: `smtp://127.0.0.1:${portOf(taker.server.address())}`,
    /** Where the letters can be looked at; `/letters` gives them as JSON. */
    outbox: `http://127.0.0.1:${portOf(outbox.address())}`,
    stop: async () => {
      await new Promise((done) => taker.close(() => done(undefined)));
      outbox.closeAllConnections();
      await new Promise((done) => outbox.close(() => done(undefined)));
    },
  };
}

const escape = (/** @type {string} */ text) =>
  text.replace(/[&<>"]/g, (sign) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[sign] ?? sign);
const linked = (/** @type {string} */ text) =>
  escape(text).replace(/https?:\/\/[^\s]+/g, (address) => `<a href="${address}">${address}</a>`);

const page = (
  /** @type {{ to: string, subject: string, text: string, moment: string }[]} */ letters,
) => `<!doctype html>
<html lang="en"><meta charset="utf-8"><title>Outbox</title>
<style>body{font:16px/1.5 system-ui,sans-serif;max-width:42rem;margin:3rem auto;padding:0 1.5rem;background:#f5efe4;color:#2b2129}
article{background:#fffdf8;border:1px solid #d8cdbb;padding:1rem 1.25rem;margin:1rem 0}h2{font-size:1.1rem;margin:0}pre{font:inherit;white-space:pre-wrap;overflow-wrap:anywhere}</style>
<h1>Outbox</h1><p>Letters that the application wrote. None of them went anywhere.</p>
${letters.map(({ to, subject, text, moment }) => `<article><h2>${escape(subject)}</h2><p>To ${escape(to)}, <time>${moment}</time></p><pre>${linked(text)}</pre></article>`).join('\n') || '<p>There is none yet.</p>'}
</html>`;
