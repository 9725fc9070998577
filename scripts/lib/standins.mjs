import { startMailServer } from '../../standins/mail-server.mjs';
import { CLIENT, startIdentityProvider } from '../../standins/identity-provider.mjs';

/** Starts what stands in for services of others, with what the application must be told of them. @param {string} origin of the application */
export async function startStandIns(origin) {
  const [mail, people] = await Promise.all([
    startMailServer(),
    startIdentityProvider({ callbacks: [`${origin}/studio/sign-in/provider/back`] }),
  ]);
  return {
    outbox: mail.outbox,
    issuer: people.issuer,
    env: {
      PLUM_MAIL: mail.url,
      PLUM_PROVIDER: people.issuer,
      PLUM_PROVIDER_ID: CLIENT.id,
      PLUM_PROVIDER_SECRET: CLIENT.secret,
      PLUM_PROVIDER_NAME: 'the society’s directory',
    },
    stop: () => Promise.all([mail.stop(), people.stop()]),
  };
}
