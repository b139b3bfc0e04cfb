import { request } from 'node:https';
import type { BrowserContext, Page } from 'playwright-core';
import { browser, SIZES } from './browser';
import type { Demo } from './demo';
import type { RoomProxy } from './roomProxy';

export interface Said {
  readonly status: number;
  readonly headers: Readonly<Record<string, string | readonly string[] | undefined>>;
  readonly text: string;
  readonly body: Record<string, unknown>;
}

/** What a program says that trusts any certificate. */
export const say = (
  url: string,
  { method = 'GET', body, headers = {} }: { method?: string; body?: unknown; headers?: Record<string, string> } = {},
): Promise<Said> =>
  new Promise((resolve, reject) => {
    const asked = request(url, { method, rejectUnauthorized: false, headers, agent: false }, (response) => {
      let text = '';
      response.setEncoding('utf8');
      response.on('data', (part: string) => (text += part));
      response.on('end', () => {
        let parsed: Record<string, unknown> = {};
        try {
          parsed = JSON.parse(text) as Record<string, unknown>;
        } catch {
          // No JSON.
        }
        resolve({ status: response.statusCode ?? 0, headers: response.headers, text, body: parsed });
      });
    });
    asked.once('error', reject);
    asked.end(body === undefined ? undefined : JSON.stringify(body));
  });

export const withKey = (key: string): Record<string, string> => ({ authorization: `Bearer ${key}` });

/** Invited, asked, and let in with these rights by the engine's own machine. @returns the key */
export async function keyOf(
  demo: Pick<Demo, 'post'>,
  proxy: RoomProxy,
  name: string,
  rights: readonly string[],
): Promise<string> {
  const invitation = (await demo.post('/api/invitations', {})).body;
  const asked = await say(`${proxy.url}/api/join`, { method: 'POST', body: { code: invitation.code, name } });
  const { id, secret } = asked.body;
  const answered = await demo.post(`/api/joining/${String(id)}`, { let: true, name, person: '', rights });
  const waited = await say(`${proxy.url}/api/join/wait`, { method: 'POST', body: { id, secret } });
  if (asked.status !== 202 || answered.status !== 200 || waited.body.state !== 'in')
    throw new Error(`${name} was not let in: ${asked.text} ${JSON.stringify(answered.body)} ${waited.text}`);
  return String(waited.body.key);
}

/** A phone that was let in before, at its place in the room. */
export async function joinedPhone(proxy: RoomProxy, key: string): Promise<{ context: BrowserContext; page: Page }> {
  const context = await browser.newContext({ viewport: SIZES.phone, hasTouch: true, ignoreHTTPSErrors: true });
  await context.addCookies([
    { name: '__Host-umbek-station', value: key, url: proxy.url, secure: true, httpOnly: true, sameSite: 'Strict' },
  ]);
  const page = await context.newPage();
  await page.goto(proxy.url);
  await page.getByText(/^(\d+) of \1 reached$/).waitFor({ timeout: 30_000 });
  return { context, page };
}
