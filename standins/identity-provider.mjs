import { createServer } from 'node:http';
import { quietly } from './quietly.mjs';

// Its warnings are for whoever runs it in production, which this is not.
const { default: Provider } = await quietly(() => import('oidc-provider'));

/** People whom the provider knows, with the groups that it names them in. All of them are made up. */
export const PEOPLE = [
  { sub: 'p-101', name: 'Isla Thorne', email: 'isla@larkfell.example', email_verified: true, groups: ['hut-keepers'] },
  { sub: 'p-102', name: 'Corin Vale', email: 'corin@larkfell.example', email_verified: true, groups: ['web'] },
  { sub: 'p-103', name: 'Nessa Pike', email: 'nessa@elsewhere.example', email_verified: true, groups: [] },
  { sub: 'p-104', name: 'Odd Address', email: 'orla@larkfell.example', email_verified: false, groups: [] },
];
export const CLIENT = { id: 'plum-thread', secret: 'a-secret-of-the-stand-in-0123456789abcdef' };

/**
 * An identity provider (OpenID Connect) that asks for no password: whoever comes chooses who they are. Ships with the
 * application for the demo and the tests; in production there is a real one.
 *
 * @param {{ port?: number, callbacks: string[] }} options a port on loopback, and the addresses it may send people back to
 */
export async function startIdentityProvider({ port = 0, callbacks }) {
  /** @type {(request: import('node:http').IncomingMessage, response: import('node:http').ServerResponse) => void} */
  let handle = () => {};
  const server = createServer((request, response) => handle(request, response));
  await new Promise((done) => server.listen(port, '127.0.0.1', () => done(undefined)));
  const at = /** @type {{ port: number }} */ (/** @type {unknown} */ (server.address())).port;
  const issuer = `http://127.0.0.1:${at}`;
  const provider = await quietly(
    () =>
      new Provider(issuer, {
        clients: [
          {
            client_id: CLIENT.id,
            client_secret: CLIENT.secret,
            redirect_uris: callbacks,
            grant_types: ['authorization_code'],
            response_types: ['code'],
          },
        ],
        claims: { openid: ['sub'], profile: ['name'], email: ['email', 'email_verified'], groups: ['groups'] },
        scopes: ['openid', 'profile', 'email', 'groups'],
        // Everything stands in the identity token, so that it needs not be asked for.
        conformIdTokenClaims: false,
        pkce: { required: () => true },
        cookies: { keys: ['only-a-stand-in'] },
        features: { devInteractions: { enabled: false } },
        interactions: { url: (_context, interaction) => `/interaction/${interaction.uid}` },
        findAccount: (_context, sub) => {
          const person = PEOPLE.find((one) => one.sub === sub);
          return person && { accountId: sub, claims: () => Promise.resolve({ ...person }) };
        },
        loadExistingGrant: async (context) => {
          const { client, session } = context.oidc;
          const grant = new context.oidc.provider.Grant({ clientId: client?.clientId, accountId: session?.accountId });
          grant.addOIDCScope('openid profile email groups');
          await grant.save();
          return grant;
        },
        ttl: { AccessToken: 600, AuthorizationCode: 60, IdToken: 600, Interaction: 600, Session: 60, Grant: 600 },
      }),
  );
  const answer = provider.callback();
  handle = (request, response) => {
    const [, uid, sub] = /^\/interaction\/([\w-]+)(?:\?as=([\w-]+))?$/.exec(request.url ?? '') ?? [];
    if (!uid) {
      void answer(request, response);
      return;
    }
    if (sub) {
      void provider.interactionFinished(request, response, { login: { accountId: sub, remember: false } });
      return;
    }
    response.setHeader('content-type', 'text/html; charset=utf-8');
    response.end(`<!doctype html><html lang="en"><meta charset="utf-8"><title>Who are you?</title>
<body style="font:16px/1.6 system-ui,sans-serif;max-width:32rem;margin:4rem auto;padding:0 1.5rem"><h1>Who are you?</h1>
<p>This stands in for the identity provider of an organisation.</p>
<ul>${PEOPLE.map((one) => `<li><a href="/interaction/${uid}?as=${one.sub}">${one.name}</a> (${one.email}${one.groups.length ? `; ${one.groups.join(', ')}` : ''})</li>`).join('')}</ul></body></html>`);
  };
  return {
    /** What `PLUM_PROVIDER` says. */
    issuer,
    stop: async () => {
      server.closeAllConnections();
      await new Promise((done) => server.close(() => done(undefined)));
    },
  };
}
