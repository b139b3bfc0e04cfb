import type { ShowsReply } from '@umbek/protocol';
import type { ShowDocument } from '@umbek/core/show';
import { cap, freshDemo, openAt, openDesk, sizes, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';

jest.setTimeout(120_000);
useBrowser();

const showsOf = async (demo: Demo): Promise<ShowsReply> =>
  (await (await fetch(`${demo.url}/api/shows`)).json()) as ShowsReply;
const showOf = async (demo: Demo): Promise<ShowDocument> =>
  (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;
const ID = '01J0C0RVANEH1NSHW000000077';

describe.each(sizes)('many shows (%s)', (size) => {
  it('a duplicate for tonight is opened; the other station is told, and goes along when it chooses to', async () => {
    const demo = await freshDemo();
    const other = await openDesk(demo.url, size);
    const page = await openAt(demo.url, size, '/rig?part=show');
    await page.getByRole('textbox', { name: 'Name of the new show' }).fill('Second night');
    await page.getByRole('button', { name: 'Duplicate for tonight' }).click();
    await page.getByRole('button', { name: 'Rename Second night' }).click();
    const field = page.getByRole('textbox', { name: 'Name', exact: true });
    await field.fill('The second night');
    await field.press('Enter');
    await page.getByRole('button', { name: 'Open The second night' }).click();
    await page.getByRole('button', { name: 'Open it now' }).click();
    await until('it is open', async () => (await showsOf(demo)).open.name === 'The second night');
    const { shows } = await showsOf(demo);
    expect(shows.map(({ name }) => name)).toEqual(['The Long Night at Corvane Hill']);
    // Who opened it went along; the other one is told.
    await page.getByText('The second night', { exact: true }).first().waitFor();
    expect(await page.getByText('Another show is open').count()).toBe(0);
    await other.getByText('Another show is open').waitFor();
    await other.getByRole('button', { name: 'Show it' }).click();
    await other.getByText('Another show is open').waitFor({ state: 'detached' });
    await cap(other, 'Dome cam').click();
    await until('its buttons work', async () => (await demo.standins.switcher.report()).points.preview === 3);
    await demo.close();
  });
});

describe('shows over the interface', () => {
  it('what was edited stays with its show, values come back as they were left, and a duplicate begins at their start', async () => {
    const demo = await freshDemo();
    const { show, values } = await showOf(demo);
    const meteors = values.find(({ key }) => key === 'meteors');
    if (!meteors) throw new Error('No meteors.');
    const valueNow = async () => {
      const board = (await (await fetch(`${demo.url}/api/as-run`)).json()) as {
        entries: { kind: string; key?: string; value?: unknown }[];
      };
      return board.entries.findLast((entry) => entry.kind === 'set' && entry.key === 'value.meteors')?.value;
    };
    const set = { name: 'Set', station: 'test', steps: [{ id: 's', kind: 'set', target: 'value.meteors', to: 41 }] };
    expect((await demo.post('/api/steps/run', set)).status).toBe(202);
    await until('set', async () => (await valueNow()) === 41);
    expect((await demo.post('/api/shows', { id: ID, name: 'Second', from: 'open' })).status).toBe(201);
    // Asked for again it is made once.
    await demo.post('/api/shows', { id: ID, name: 'Third', from: 'empty' });
    expect((await showsOf(demo)).shows.map(({ name }) => name)).toEqual(['Second']);
    expect((await demo.post(`/api/shows/${ID}/open`, { station: 'test' })).status).toBe(200);
    await until('its start', async () => (await valueNow()) === meteors.start);
    const [button] = (await showOf(demo)).buttons;
    const changes = [{ entity: 'buttons', id: button?.id, field: 'legend', from: button?.legend, to: 'Tonight' }];
    expect(
      (await demo.post('/api/edits', { editId: '01J0C0RVANEH1NEDT000000077', label: 'x', by: '', changes })).status,
    ).toBe(200);
    expect((await demo.post(`/api/shows/${show.id}/open`, { station: 'test' })).status).toBe(200);
    await until('as it was left', async () => (await valueNow()) === 41);
    expect((await showOf(demo)).buttons[0]?.legend).toBe(button?.legend);
    await demo.post(`/api/shows/${ID}/open`, { station: 'test' });
    expect((await showOf(demo)).buttons[0]?.legend).toBe('Tonight');
    // The open one is not deleted, and none twice.
    const drop = (id: string) => fetch(`${demo.url}/api/shows/${id}`, { method: 'DELETE' });
    expect((await drop(ID)).status).toBe(404);
    expect((await drop(show.id)).status).toBe(200);
    expect((await drop(show.id)).status).toBe(404);
    expect((await demo.post(`/api/shows/${show.id}/open`, { station: 'test' })).status).toBe(404);
    await demo.close();
  });
});
