import { demoId } from '@umbek/demo';
import { PLAIN_BUTTON, type ShowDocument } from '@umbek/core/show';
import type { Page } from 'playwright-core';
import { browser, cap, choosePanel, freshDemo, openAt, openDesk, SIZES, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';
import { FrozenNetwork } from './support/frozenNetwork';

useBrowser();
jest.setTimeout(120_000);

const CUT = '[data-testid^="cap-"][aria-label^="Cut"]';
const boxes = (page: Page, selector: string) =>
  page.locator(selector).evaluateAll((all) =>
    all.map((item) => {
      const { x, y, width, height } = item.getBoundingClientRect();
      return { x, y, width, height };
    }),
  );

describe('a network that dies quietly', () => {
  it('is noticed within 2.5 s: lamps go out, presses and stops are refused at once, and none of them comes later', async () => {
    const demo = await freshDemo();
    const network = await FrozenNetwork.to(demo.supervisor.port);
    const page = await openDesk(`http://127.0.0.1:${network.port}`, 'phone');
    const lit = page.locator('[data-testid^="cap-"][data-lamp="onAir"]');
    await lit.first().waitFor();
    const before = (await demo.standins.switcher.report()).effects.length;
    const died = Date.now();
    network.freeze();
    await page.getByText(/^No contact with the engine/).waitFor({ timeout: 4000 });
    // The limit of the page is 2.5 s; the rest is the browser test's own.
    expect(Date.now() - died).toBeLessThanOrEqual(2700);
    expect(await page.locator('[data-testid^="cap-"]:not([data-lamp="none"])').count()).toBe(0);
    await cap(page, 'Star charts').click();
    await page.locator('[data-testid^="cap-"][aria-label^="Star charts, no contact"][data-press="failed"]').waitFor();
    // The handle is slid to its end.
    const [handle] = await boxes(page, '[data-testid="stop-all"]');
    if (!handle) throw new Error('There is no handle.');
    await page.mouse.move(handle.x + 20, handle.y + 20);
    await page.mouse.down();
    await page.mouse.move(handle.x + handle.width, handle.y + 20, { steps: 5 });
    await page.mouse.up();
    await page.getByText('not stopped: no answer').waitFor();
    // A picture of what was stays, with its age.
    await page
      .getByTestId('on-air')
      .getByText(/^last known \d+ s ago$/)
      .waitFor();
    await page.waitForTimeout(2500);
    network.thaw();
    await page.getByText('22 of 22 reached').waitFor({ timeout: 10_000 });
    await lit.first().waitFor();
    await page.waitForTimeout(500);
    expect((await demo.standins.switcher.report()).effects.length).toBe(before);
    expect((await demo.asRun()).filter((entry) => entry.kind === 'stopAll')).toEqual([]);
    await cap(page, 'Star charts').click();
    await page.locator('[data-testid^="cap-"][aria-label^="Star charts"][data-lamp="onPreview"]').waitFor();
    network.close();
    await demo.close();
  });

  it('leaves no press in doubt: one that was on its way is told as not done, and a deed that comes late is refused by its age', async () => {
    const demo = await freshDemo();
    const network = await FrozenNetwork.to(demo.supervisor.port);
    const page = await openDesk(`http://127.0.0.1:${network.port}`, 'phone');
    network.freeze();
    await cap(page, 'Star charts').click();
    await page
      .locator('[data-testid^="cap-"][aria-label^="Star charts"][data-press="failed"]')
      .waitFor({ timeout: 4000 });
    network.close();
    const health = await demo.health();
    const late = await fetch(`${demo.url}/api/stop-all`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', 'umbek-asked-at': `${health.epoch}:1` },
      body: JSON.stringify({ station: 'Desk' }),
    });
    expect([late.status, await late.json()]).toMatchObject([409, { code: 'too-old' }]);
    const other = await fetch(`${demo.url}/api/stop-all`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', 'umbek-asked-at': `${health.epoch + 1}:1e12` },
      body: JSON.stringify({ station: 'Desk' }),
    });
    expect(await other.json()).toMatchObject({
      message: 'The engine was started again meanwhile, so nothing was done.',
    });
    await demo.close();
  });
});

describe('a cap under a finger', () => {
  it('looks pressed for as long as the finger is on it, whatever the engine says or does not say, and not a moment longer', async () => {
    const demo = await freshDemo();
    const network = await FrozenNetwork.to(demo.supervisor.port);
    const page = await openDesk(`http://127.0.0.1:${network.port}`, 'phone');
    const target = cap(page, 'Star charts');
    const [box] = await boxes(page, '[data-testid^="cap-"][aria-label^="Star charts"]');
    if (!box) throw new Error('There is no cap.');
    const client = await page.context().newCDPSession(page);
    const touch = (type: 'touchStart' | 'touchEnd') =>
      client.send('Input.dispatchTouchEvent', {
        type,
        touchPoints: type === 'touchStart' ? [{ x: box.x + box.width / 2, y: box.y + box.height / 2 }] : [],
      });
    const looks = () =>
      target.evaluate((element) => {
        const { backgroundColor, transform } = getComputedStyle(element);
        return { backgroundColor, transform };
      });
    const up = await looks();
    // The cap as `colour.capDown` has it, a pixel lower.
    const down = { backgroundColor: 'rgb(221, 213, 194)', transform: 'matrix(1, 0, 0, 1, 0, 1)' };
    expect(up).not.toEqual(down);
    await touch('touchStart');
    await page.locator('[data-testid^="cap-"][aria-label^="Star charts"][data-lamp="onPreview"]').waitFor();
    await page.waitForTimeout(1500);
    expect(await looks()).toEqual(down);
    await touch('touchEnd');
    await page.waitForTimeout(100);
    expect(await looks()).toEqual(up);
    // The second finger comes when contact is gone: its press is refused, and it is on the cap all the same.
    network.freeze();
    await page.getByText(/^No contact with the engine/).waitFor({ timeout: 4000 });
    await touch('touchStart');
    await page.locator('[data-testid^="cap-"][aria-label^="Star charts"][data-press="failed"]').waitFor();
    expect(await looks()).toEqual(down);
    await touch('touchEnd');
    await page.waitForTimeout(100);
    expect(await looks()).toEqual(up);
    network.close();
    await demo.close();
  });
});

describe('a cap whose words change by themselves', () => {
  it('says what is so, for the eye and for the ear, also after a lost contact in which they changed', async () => {
    const demo = await freshDemo();
    const show = (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
    const [first] = show.strips;
    if (!first) throw new Error('There is no strip.');
    const [counts, more] = [demoId('BTN', 901), demoId('BTN', 902)];
    const buttons = [
      {
        ...PLAIN_BUTTON,
        id: counts,
        stripId: first.id,
        legend: 'Count {{ string(value.meteors) }}',
        note: '{{ value.meteors > 2 ? "" : string(value.meteors + 1) + " next" }}',
        steps: [],
        order: 'zy',
      },
      {
        ...PLAIN_BUTTON,
        id: more,
        stripId: first.id,
        legend: 'More',
        steps: [{ id: 'a', onFail: 'stop', kind: 'set', target: 'value.meteors', to: { cel: 'value.meteors + 1' } }],
        order: 'zz',
      },
    ];
    const edited = await demo.post('/api/edits', {
      editId: '01J0C0RVANEH1EDT0000000902',
      label: 'Two caps that count',
      changes: buttons.map((to) => ({ entity: 'buttons', id: to.id, field: '*', from: null, to })),
    });
    expect(edited.status).toBe(200);
    let presses = 0;
    const count = async (): Promise<void> => {
      const pressId = `01J0C0RVANEH1PRESS000009${String((presses += 1)).padStart(2, '0')}`;
      const done = await demo.post('/api/press', { pressId, buttonId: more, phase: 'down', station: 'test' });
      expect(done.body).toMatchObject({ accepted: true });
    };
    const network = await FrozenNetwork.to(demo.supervisor.port);
    const page = await openDesk(`http://127.0.0.1:${network.port}`, 'phone');
    const target = page.getByTestId(`cap-${counts}`);
    const says = (text: string, label: string): Promise<unknown> =>
      until(
        label,
        async () => (await target.textContent()) === text && (await target.getAttribute('aria-label')) === label,
      );
    const start = show.values.find(({ key }) => key === 'meteors')?.start;
    expect(start).toBe(0);
    await says('Count 01 next', 'Count 0, 1 next');
    await count();
    await says('Count 12 next', 'Count 1, 2 next');
    // Drawn anew, since it was pressed: what it says stays what is so.
    await target.click();
    await page.locator(`[data-testid="cap-${counts}"]:not([data-press="sent"])`).waitFor();
    await count();
    await says('Count 23 next', 'Count 2, 3 next');
    network.freeze();
    await says('Count 2no contact', 'Count 2, no contact');
    await count();
    network.thaw();
    await says('Count 3', 'Count 3');
    network.close();
    await demo.close();
  });
});

describe('one bad answer', () => {
  let demo: Demo;
  beforeAll(async () => (demo = await freshDemo()));

  it('leaves no blank page: it is told, and tried again', async () => {
    const page = await browser.newPage({ viewport: SIZES.phone });
    await page.route('**/api/show/desk*', (route) => route.fulfill({ json: { nonsense: true } }));
    await page.route('**/fonts/*', (route) => route.abort());
    await page.goto(demo.url);
    await page.getByText('The engine does not answer at this address.').waitFor();
    await page.getByTestId('stop-all').or(page.getByRole('navigation')).first().waitFor();
    await page.unroute('**/api/show/desk*');
    await page.getByRole('button', { name: 'Try again' }).click();
    await cap(page, 'Desk cam').first().waitFor();
    await page.close();
  });

  it('nor does one part that fails while it is drawn', async () => {
    const page = await browser.newPage({ viewport: SIZES.phone });
    await page.route('**/api/log*', (route) =>
      route.fulfill({ json: { entries: [{ seq: 1, kind: 'press' }, null], next: 1 } }),
    );
    await page.goto(`${demo.url}/log`);
    await page.getByTestId('boundary').getByText('The engine goes on.').waitFor();
    await page.getByTestId('stop-all').waitFor();
    await page.getByRole('link', { name: 'Desk' }).click();
    await cap(page, 'Desk cam').first().waitFor();
    await page.close();
  });
});

describe('room on a phone', () => {
  let demo: Demo;
  beforeAll(async () => (demo = await freshDemo()));

  it('shows five rows of caps without scrolling, the first one in the upper third and a half line', async () => {
    const page = await openDesk(demo.url, 'phone');
    await cap(page, 'Name out').first().waitFor();
    const take = (await boxes(page, CUT))[0];
    const caps = await boxes(page, '[data-testid^="cap-"]');
    const foot = (await boxes(page, '[data-testid="stop-all"]'))[0];
    if (!take || !foot) throw new Error('There is no take bar.');
    const whole = caps.filter((candidate) => candidate.y + candidate.height <= foot.y - 8);
    const rows = new Set(whole.map((item) => Math.round(item.y)));
    expect(rows.size).toBeGreaterThanOrEqual(5);
    expect(Math.min(...rows)).toBeLessThanOrEqual(300);
  });

  it('is a cap’s up to its edges: nothing that lies beside it takes a touch', async () => {
    for (const [size, path, test] of [
      ['phone', '/', 'cap'],
      ['wide', '/', 'cap'],
      ['wide', '/bench', 'edit'],
    ] as const) {
      const page = await openAt(demo.url, size, path);
      await page.locator(`[data-testid^="${test}-"]`).nth(8).waitFor();
      const covered = await page.evaluate((kind) => {
        const caps = [...window.document.querySelectorAll(`[data-testid^="${kind}-"]`)];
        const seen = caps.flatMap((item) => {
          const { left, right, top, bottom } = item.getBoundingClientRect();
          return top < 0 || bottom > window.innerHeight - 160 ? [] : [{ item, left, right, top, bottom }];
        });
        const edges = seen.flatMap(({ item, left, right, top, bottom }) =>
          [
            [(left + right) / 2, top + 1],
            [(left + right) / 2, bottom - 2],
            [left + 1, (top + bottom) / 2],
            [right - 2, (top + bottom) / 2],
          ].map(([x = 0, y = 0]) => ({ item, hit: window.document.elementFromPoint(x, y) })),
        );
        return {
          looked: edges.length,
          others: edges.flatMap(({ item, hit }) => (item.contains(hit) ? [] : [item.getAttribute('data-testid')])),
        };
      }, test);
      expect(covered.looked).toBeGreaterThan(30);
      expect(covered.others).toEqual([]);
      await page.close();
    }
  });

  it('tells faults in one place of fixed height: no cap moves, whether one device is silent or all are', async () => {
    const demo = await freshDemo();
    const page = await openDesk(demo.url, 'phone');
    const places = () => boxes(page, '[data-testid^="cap-"], [data-testid="stop-all"]');
    await cap(page, 'Desk cam').first().waitFor();
    await page.waitForTimeout(500);
    const before = await places();
    await demo.standins.domeCam.faults({ silent: true });
    await page.getByTestId('fault').getByText('Dome cam does not answer').waitFor();
    expect(await places()).toEqual(before);
    for (const standin of Object.values(demo.standins)) await standin.faults({ silent: true });
    await page.getByText(/and \d\d more/).waitFor();
    expect(await places()).toEqual(before);
    await page.getByTestId('fault').click();
    await until('all are listed', async () => (await page.getByTestId('fault-line').count()) > 15);
    await page.keyboard.press('Escape');
    await page.getByTestId('fault-line').first().waitFor({ state: 'detached' });
    await demo.close();
  });

  it.each([
    ['upright', { width: 390, height: 844 }, ''],
    ['sideways', { width: 844, height: 390 }, ''],
    // A wide screen at 200 % is one of half the size.
    ['a wide one at 200 %', { width: 640, height: 400 }, ''],
    ['with doubled text', { width: 390, height: 844 }, 'doubled'],
  ] as const)('keeps STOP and Cut in reach: %s', async (_name, viewport, text) => {
    const page = await browser.newPage({ viewport });
    await page.goto(demo.url);
    await page.locator(CUT).waitFor();
    if (text === 'doubled')
      await page.evaluate(() => {
        for (const item of document.querySelectorAll<HTMLElement>('[dir="auto"]')) {
          const style = getComputedStyle(item);
          item.style.fontSize = `${parseFloat(style.fontSize) * 2}px`;
          item.style.lineHeight = `${parseFloat(style.lineHeight) * 2}px`;
        }
      });
    for (const id of [CUT, '[data-testid="stop-all"]']) {
      const reachable = await page.locator(id).evaluate((item) => {
        const { left, top, right, bottom, width, height } = item.getBoundingClientRect();
        const middle = document.elementFromPoint((left + right) / 2, (top + bottom) / 2);
        return {
          whole: left >= 0 && top >= 0 && right <= innerWidth && bottom <= innerHeight,
          hit: item.contains(middle),
          large: Math.min(width, height) >= 44,
        };
      });
      expect([id, reachable]).toEqual([id, { whole: true, hit: true, large: true }]);
    }
    expect(await page.evaluate(() => document.documentElement.scrollWidth <= innerWidth)).toBe(true);
    await page.close();
  });

  it('finds a panel among sixty by a search, comes back to it from another place, and has it in its address', async () => {
    const demo = await freshDemo();
    const changes = Array.from({ length: 60 }, (_, at) => {
      const id = `01J0C0RVANEH1PANEX${String(at).padStart(8, '0')}`;
      return {
        entity: 'panels',
        id,
        field: '*',
        from: null,
        to: { id, name: `Show ${at + 1}`, order: `z${String(at).padStart(2, '0')}` },
      };
    });
    const edit = await demo.post('/api/edits', {
      editId: '01J0C0RVANEH1ED1T000000001',
      label: 'Sixty panels',
      by: 'Ada',
      changes,
    });
    expect(edit.status).toBe(200);
    const page = await openDesk(demo.url, 'phone');
    await page.getByTestId('panel-choice').click();
    await page.getByLabel('Search: Panels').fill('show 47');
    await page.getByLabel('Search: Panels').press('Enter');
    await page.getByTestId('panel-choice').getByText('Show 47').waitFor();
    await page.getByRole('link', { name: 'Log' }).click();
    await page.getByRole('heading', { name: 'Log' }).waitFor();
    await page.getByRole('link', { name: 'Desk' }).click();
    await page.getByTestId('panel-choice').getByText('Show 47').waitFor();
    await page.reload();
    await page.getByTestId('panel-choice').getByText('Show 47').waitFor();
    await choosePanel(page, 'Main');
    await cap(page, 'Desk cam').first().waitFor();
    await demo.close();
  });

  it('says on air and next, on pictures and on caps', async () => {
    const page = await openDesk(demo.url, 'phone');
    await page.getByTestId('on-air').getByText('ON AIR').waitFor();
    await page.getByTestId('on-preview').getByText('NEXT').waitFor();
    await cap(page, 'Star charts').click();
    await cap(page, 'Star charts').getByText('next').waitFor();
    await page.locator(CUT).click();
    await cap(page, 'Star charts').getByText('on air').waitFor();
    expect(SIZES.phone.width).toBe(390);
  });
});

describe('hands of every kind', () => {
  let demo: Demo;
  beforeAll(async () => (demo = await freshDemo()));

  it('a screen reader’s or a switch’s activation presses once; arrow keys go from cap to cap', async () => {
    const page = await openDesk(demo.url, 'phone');
    const charts = cap(page, 'Star charts').first();
    await charts.evaluate((item: HTMLElement) => item.click());
    await page.locator('[data-testid^="cap-"][aria-label^="Star charts"][data-lamp="onPreview"]').waitFor();
    const previews = async () =>
      (await demo.standins.switcher.report()).effects.filter(({ command }) => command === 'preview').length;
    expect(await previews()).toBe(1);
    // A touch of a finger ends in a click as well, which is the same touch.
    await cap(page, 'Black').first().click();
    await until('it is on preview', async () => (await previews()) === 2);
    await page.waitForTimeout(400);
    expect(await previews()).toBe(2);
    await charts.focus();
    const focused = () => page.evaluate(() => document.activeElement?.getAttribute('aria-label')?.split(',')[0]);
    await page.keyboard.press('ArrowRight');
    expect(await focused()).toBe('Black');
    await page.keyboard.press('ArrowUp');
    expect(await focused()).toBe('Dome cam');
    await page.keyboard.press('Enter');
    await page.locator('[data-testid^="cap-"][aria-label^="Dome cam"][data-lamp="onPreview"]').waitFor();
  });

  it('a held cap is not let go by an edit beside it', async () => {
    const page = await openDesk(demo.url, 'phone');
    await choosePanel(page, 'Cameras');
    await cap(page, 'Lawn cam').first().click();
    await page.locator('[data-testid^="cap-"][aria-label^="Lawn cam"][data-lamp="chosen"]').waitFor();
    const show = (await (await fetch(`${demo.url}/api/show`)).json()) as {
      buttons: { id: string; stripId: string; legend: string; order: string }[];
    };
    const left = show.buttons.find(({ legend }) => legend === 'Left');
    if (!left) throw new Error('There is no such button.');
    await cap(page, 'Left').first().hover();
    await page.mouse.down();
    const pan = async () => Number((await demo.standins.lawnCam.report()).points.pan);
    const start = await pan();
    await until('it moves', async () => (await pan()) !== start);
    const to = { ...left, id: '01J0C0RVANEH1BVTT0N0000001', legend: 'Beside', order: '0', steps: [] };
    const edit = await demo.post('/api/edits', {
      editId: '01J0C0RVANEH1ED1T000000002',
      label: 'A button beside it',
      by: 'Ada',
      changes: [{ entity: 'buttons', id: to.id, field: '*', from: null, to }],
    });
    expect(edit).toMatchObject({ status: 200 });
    await cap(page, 'Beside').first().waitFor();
    await page.waitForTimeout(600);
    expect((await demo.standins.lawnCam.report()).points.travelling).toBe(true);
    await page.mouse.up();
    await until('it stands', async () => (await demo.standins.lawnCam.report()).points.travelling === false);
  });

  it('two fingers zoom the picture of a camera', async () => {
    const page = await openDesk(demo.url, 'phone');
    await page.goto(`${demo.url}/rig/deskCam`);
    const box = await page.getByTestId('aim').boundingBox();
    if (!box) throw new Error('There is no picture.');
    const [x, y] = [box.x + box.width / 2, box.y + box.height / 2];
    const touch = await page.context().newCDPSession(page);
    const fingers = (apart: number) => [
      { x: x - apart, y, id: 0 },
      { x: x + apart, y, id: 1 },
    ];
    await touch.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: fingers(20) });
    for (const apart of [30, 40, 50, 60])
      await touch.send('Input.dispatchTouchEvent', { type: 'touchMove', touchPoints: fingers(apart) });
    await touch.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
    // Three times as far apart: three times the zoom.
    await until(
      'it is zoomed in',
      async () => Math.abs(Number((await demo.standins.deskCam.report()).points.zoom) - 3) < 0.2,
    );
  });
});

describe('what the Desk loads first', () => {
  it('is no schema and no editor, and the show and the live connection once each', async () => {
    const demo = await freshDemo();
    const context = await browser.newContext({ viewport: SIZES.phone });
    const page = await context.newPage();
    const asked: string[] = [];
    let sockets = 0;
    page.on('request', (request) => asked.push(new URL(request.url()).pathname));
    page.on('websocket', () => (sockets += 1));
    await page.goto(demo.url);
    await page.locator('[data-testid^="cap-"][data-lost="false"]').first().waitFor();
    expect(asked.filter((path) => path === '/api/show/desk')).toHaveLength(1);
    expect(sockets).toBe(1);
    const [first, ...others] = asked.filter((path) => path.endsWith('.js'));
    expect(others).toEqual([]);
    const script = await (await fetch(`${demo.url}${first}`)).text();
    // Asks the browser to compile it whole while it comes.
    expect(script.slice(0, script.indexOf('\n'))).toBe('//# allFunctionsCalledOnLoad');
    for (const part of ['ZodError', 'unrecognized_keys', 'Recall {position}']) expect(script).not.toContain(part);
    // The other places come by themselves, and with them what works edits in.
    await until('the places', () => Promise.resolve(asked.some((path) => path.includes('/places-'))));
    await context.close();
    await demo.close();
  });
});
