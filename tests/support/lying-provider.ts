import { createSign, generateKeyPairSync, type KeyObject } from 'node:crypto';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';

/** What an identity provider says of somebody, with the header before it and the key that signs it (RFC 7515; OpenID Connect Core 1.0, 2). */
export interface Said {
  header: Record<string, unknown>;
  claims: Record<string, unknown>;
  key: KeyObject;
  /** The whole token, where it is not made from the rest. */
  token?: string;
}

const part = (value: unknown) => Buffer.from(JSON.stringify(value)).toString('base64url');

const CLIENT = 'plum-thread';
const pair = generateKeyPairSync('rsa', { modulusLength: 2048 });
/** A key that the provider does not publish. */
export const FOREIGN = generateKeyPairSync('rsa', { modulusLength: 2048 }).privateKey;

/** An identity provider that says what a test wants it to, true or not. */
export async function startLyingProvider() {
  let lie: (said: Said) => void = () => undefined;
  let person: Record<string, unknown> = {};
  const server = createServer((request, response) => {
    const issuer = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    const send = (value: unknown) => {
      response.setHeader('content-type', 'application/json');
      response.end(JSON.stringify(value));
    };
    if (request.url === '/.well-known/openid-configuration')
      return send({
        issuer,
        authorization_endpoint: `${issuer}/auth`,
        token_endpoint: `${issuer}/token`,
        jwks_uri: `${issuer}/keys`,
        response_types_supported: ['code'],
        subject_types_supported: ['public'],
        id_token_signing_alg_values_supported: ['RS256'],
        code_challenge_methods_supported: ['S256'],
      });
    if (request.url === '/keys')
      return send({ keys: [{ ...pair.publicKey.export({ format: 'jwk' }), kid: 'one', alg: 'RS256', use: 'sig' }] });
    const now = Math.floor(Date.now() / 1000);
    const said: Said = {
      header: { alg: 'RS256', kid: 'one' },
      claims: { iss: issuer, aud: CLIENT, iat: now, exp: now + 300, ...person },
      key: pair.privateKey,
    };
    lie(said);
    const text = `${part(said.header)}.${part(said.claims)}`;
    const signature = createSign('RSA-SHA256').update(text).sign(said.key).toString('base64url');
    send({ access_token: 'a', token_type: 'Bearer', expires_in: 60, id_token: said.token ?? `${text}.${signature}` });
  });
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  return {
    issuer: `http://127.0.0.1:${(server.address() as AddressInfo).port}`,
    client: CLIENT,
    /** Says this of whoever comes next; `how` makes it wrong. */
    say(claims: Record<string, unknown>, how: (said: Said) => void = () => undefined) {
      person = claims;
      lie = how;
    },
    stop: () => {
      server.closeAllConnections();
      return new Promise<void>((done) => void server.close(() => done()));
    },
  };
}
