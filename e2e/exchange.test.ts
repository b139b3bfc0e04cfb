import type { ShowDocument } from '@umbek/core/show';
import { cap, freshDemo, openAt, openDesk, useBrowser } from './support/browser';
import { type Demo, until } from './support/demo';
import { Hand } from './support/hand';

jest.setTimeout(180_000);
useBrowser();

const showOf = async (demo: Demo): Promise<ShowDocument> =>
  (await (await fetch(`${demo.url}/api/show`)).json()) as ShowDocument;

/** The demo's rig as somebody else keyed it, with nothing programmed for it. */
async function otherShow(demo: Demo): Promise<void> {
  const { revision: _revision, ...show } = (await showOf(demo)) as ShowDocument & { revision: number };
  const key = (item: string) => (item === 'switcher' || item === 'deskCam' ? `my${item}` : item);
  const document = {
    ...show,
    devices: show.devices.map((device) => ({ ...device, key: key(device.key) })),
    sources: show.sources.map((source) => ({
      ...source,
      key: key(source.key),
      camera: source.camera === null ? null : key(source.camera),
    })),
    positions: [],
    reframes: [],
    roles: [],
    panels: [],
    strips: [],
    buttons: [],
    macros: [],
  };
  const file = { format: 'umbek-show', version: 2, savedAt: new Date().toISOString(), document };
  const opened = await demo.post('/api/show', file);
  if (opened.status !== 200) throw new Error(JSON.stringify(opened.body));
}

describe.each(['phone'] as const)('a panel as a file (%s)', (size) => {
  it('goes into another show, asks what stands for what, and does there what it did', async () => {
    const [from, to] = [await freshDemo(), await freshDemo()];
    await otherShow(to);
    // Saved from the panel's own editor.
    const bench = await openAt(from.url, size, '/bench?edit=panel');
    await bench.getByRole('button', { name: 'Save the panel' }).waitFor();
    const { panels } = await showOf(from);
    const saved = await fetch(`${from.url}/api/panels/${panels[0]?.id ?? ''}/file`);
    expect(saved.headers.get('content-disposition')).toContain('Main.json');
    const text = await saved.text();
    await bench.close();

    const page = await openAt(to.url, size, '/bench');
    const hand = new Hand(page);
    const choose = async (content: string): Promise<void> => {
      const [chooser] = await Promise.all([
        page.waitForEvent('filechooser'),
        page.getByRole('button', { name: 'A panel from a file' }).click(),
      ]);
      await chooser.setFiles({ name: 'panel.json', mimeType: 'application/json', buffer: Buffer.from(content) });
    };
    // What is none says so, and changes nothing.
    await choose('{"format":"something else"}');
    await page.getByText('The file holds no Umbek buttons, strips or panel.').waitFor();
    await choose(text.slice(0, 900));
    await page.getByText('The file holds no Umbek buttons, strips or panel.').first().waitFor();
    await choose(text);
    await page.getByText('7 strips with 30 buttons.').waitFor();
    await page.getByText(/^Position Ines close, position Tomasz close, .*\.$/).waitFor();
    // The guess by name stands; another one can be chosen, and taken back.
    await page.getByRole('button', { name: 'Switcher: Switcher' }).click();
    await page.getByRole('button', { name: 'Nothing yet' }).click();
    await page.getByText(/^Nothing stands for Switcher\./).waitFor();
    await page.getByRole('button', { name: 'Switcher: nothing yet' }).click();
    await page.getByRole('button', { name: 'Switcher', exact: true }).click();
    await page.getByText(/^Nothing stands for/).waitFor({ state: 'detached' });
    await hand.tap(page.getByTestId('put-in'));
    await until('the panel', async () => (await showOf(to)).panels.some(({ name }) => name === 'Main'));
    await page.close();

    const desk = await openDesk(to.url, size);
    await cap(desk, 'Ines close').first().click();
    await until(
      'Desk cam on air with its caption',
      async () => {
        const switcher = (await to.standins.switcher.report()).points;
        const captions = (await to.standins.captions.report()).points;
        return switcher.program === 1 && captions.nameText === 'Ines Halloran';
      },
      60_000,
    );
    const { pan } = (await to.standins.deskCam.report()).points;
    expect(Number(pan)).toBeCloseTo(-12.45, 0);
    await from.close();
    await to.close();
  });
});

describe('a strip as a file', () => {
  it('goes into a panel, whole', async () => {
    const demo = await freshDemo();
    const show = await showOf(demo);
    const strip = show.strips.find(({ name }) => name === 'Names');
    const text = await (
      await fetch(`${demo.url}/api/panels/${strip?.panelId ?? ''}/file?strips=${strip?.id ?? ''}`)
    ).text();
    const page = await openAt(demo.url, 'phone', `/bench?p=${show.panels[1]?.id ?? ''}`);
    await page.getByRole('button', { name: 'Add strips' }).click();
    const [chooser] = await Promise.all([
      page.waitForEvent('filechooser'),
      page.getByRole('button', { name: 'From a file' }).click(),
    ]);
    await chooser.setFiles({ name: 'names.json', mimeType: 'application/json', buffer: Buffer.from(text) });
    await page.getByText('Everything that they name is here.').waitFor();
    await page.getByRole('button', { name: 'Put 4 buttons into Cameras' }).click();
    await until(
      'the strip',
      async () => (await showOf(demo)).strips.filter(({ name }) => name === 'Names').length === 2,
    );
    await demo.close();
  });
});
