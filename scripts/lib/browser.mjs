/** How Debian's Chromium is started for tests and pictures: quietly, and without asking a network for anything. */
export const BROWSER = {
  executablePath: '/usr/bin/chromium',
  args: [
    '--no-sandbox',
    '--disable-gpu',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
  ],
};
