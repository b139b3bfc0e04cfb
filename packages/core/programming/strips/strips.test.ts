import { corvaneHill, demoId } from '@umbek/demo';
import { compileProgram } from '../../engine/index';
import { applyEdit, type Device, type ShowDocument } from '../../show/index';
import { firstPanel, stripOffers, stripsMade } from './index';

const demo = corvaneHill();
const PANEL = demoId('PAN', 1);
/** The rig of the demo with nothing programmed on it. */
const bare: ShowDocument = { ...demo, panels: [], strips: [], buttons: [], macros: [] };
const ids = () => {
  let count = 0;
  return () => `01J0C0RVANEH1NEW${String((count += 1)).padStart(10, '0')}`;
};
const after = (show: ShowDocument, changes: Parameters<typeof applyEdit>[1]['changes']): ShowDocument => {
  const applied = applyEdit(show, { changes });
  if (!applied.ok) throw new Error(JSON.stringify(applied.error[0]));
  return applied.value;
};
const withDevice = (show: ShowDocument, like: string, more: Partial<Device>): ShowDocument => {
  const device = show.devices.find(({ key }) => key === like);
  if (!device) throw new Error(`There is no ${like}.`);
  const added = { ...device, id: '01J0C0RVANEH1DEV0000000900', port: 9900, order: 'zz', ...more };
  return { ...show, devices: [...show.devices, added] };
};

describe('the strips of triggers', () => {
  it('arm and disarm in turn, tell which are armed and what holds, and fire those that can be fired', () => {
    const offers = stripOffers(corvaneHill()).filter(({ group }) => group === 'Triggers');
    const [arms, fires] = offers.map(({ strips }) => strips[0]?.buttons ?? []);
    expect(arms?.map(({ legend }) => legend)).toEqual([
      'Count board over the sky',
      'Opening film ends',
      'The countdown reaches zero',
      'The desk talks',
      'The program recorder stopped',
    ]);
    expect(arms?.[0]).toMatchObject({
      steps: [{ kind: 'trigger', does: 'arm' }],
      sets: [{ steps: [{ kind: 'trigger', does: 'disarm' }] }],
      lamps: [
        { when: `holds("${demoId('TRG', 1)}")`, show: 'up' },
        { when: `armed("${demoId('TRG', 1)}")`, show: 'armed' },
      ],
    });
    // Neither a while rule nor one that follows has a moment to be fired at.
    expect(fires?.map(({ legend }) => legend)).toEqual([
      'Opening film ends',
      'The countdown reaches zero',
      'The program recorder stopped',
    ]);
  });
});

describe('ready-made strips', () => {
  it('are offered by what the rig holds', () => {
    expect(stripOffers(bare).map(({ group, words }) => `${group}: ${words}`)).toEqual([
      'Switcher: Sources to preview',
      'Switcher: Sources direct to program',
      'Switcher: Take: cut and mix, in reach on every panel',
      'Switcher: Wipe, mix by hand, fade to black and back',
      'Switcher: Auxiliary 1 from every source',
      'Switcher: Auxiliary 2 from every source',
      'Switcher: Keyers on and off',
      'Switcher: Roles to preview, whoever has them',
      'Switcher: Choose a source, then where it goes',
      'Switcher: Choose a box of a layout, then the source in it',
      'Cameras: Choose a camera, and move it',
      'Cameras: Choose a camera, preview and move it',
      'Cameras: Positions of Desk cam',
      'Cameras: Positions of Lawn cam',
      'Cameras: Positions of Dome cam',
      'Cameras: Views of Roof cam',
      'Recorders: Recorders by room, with starts and stops',
      'Recorders: Choose a room, then record or stop it',
      'Switcher: Macros that the switcher keeps',
      'Captions: Captions out',
      'Captions: Names: next, previous, find, and the chosen one in',
      'Captions: Names: as the people list has them',
      'Captions: Names: one button a person',
      'Spool: Play, pause and clear',
      'Spool: Clips, as the player has them: cue and play',
      'Second Look: Mark, cue, roll and stop',
      'Second Look: Marks, as long as they are in the buffer: cue',
      'Slides: Next, back and first slide',
      'Sound: Mutes of the channels',
      'Sound: Levels of the channels',
      'Lawn screen: Screen on and off, brightness',
      'Uplink: Stream on and off',
      'Lines: Guests who are there: to preview',
      'Lines: Mutes of the lines',
      'Exchange: Choose a destination, then what goes there',
      ...Array.from({ length: 8 }, () => expect.stringMatching(/^Exchange: .+ from every source$/)),
      'Triggers: Arm and disarm each trigger',
      'Triggers: Fire a trigger by hand',
    ]);
    expect(stripOffers({ ...bare, devices: [], roles: [], triggers: [] })).toEqual([]);
  });

  it('share one macro where they differ in one thing only, when that is asked for', () => {
    const offers = stripOffers(bare).filter(({ key }) => key === 'switcher/Sources' || key === 'switcher/Keyers');
    const { changes } = stripsMade(bare, PANEL, offers, ids(), '', true);
    const show = after(bare, changes);
    // Two keyers are changed one by one as soon as together.
    expect(show.macros.map(({ name, params, steps }) => [name, params.length, steps.length])).toEqual([
      ['Sources', 1, 1],
    ]);
    const [macro] = show.macros;
    const runs = show.buttons.filter(({ steps }) =>
      steps.some((step) => step.kind === 'run' && step.macro === macro?.id),
    );
    expect(runs.map(({ legend, steps: [step] }) => [legend, step?.kind === 'run' && step.params])).toEqual(
      bare.sources.flatMap(({ name, key, input }) =>
        input === null ? [] : [[name, { [macro?.params[0]?.key ?? '']: key }]],
      ),
    );
    const program = compileProgram(show, 2);
    expect(runs.map(({ id }) => program.faultOf(id))).toEqual(runs.map(() => undefined));
    // Their lamps and colours stay their own.
    expect(runs[0]?.lamps).toHaveLength(2);
    expect(stripsMade(bare, PANEL, offers, ids()).changes.some(({ entity }) => entity === 'macros')).toBe(false);
  });

  it('share one macro over the recorders of a room, each giving its own', () => {
    const rooms = stripOffers(bare).find(({ key }) => key === 'recorders/rooms');
    if (rooms === undefined) throw new Error('no recorders');
    const { changes } = stripsMade(bare, PANEL, [rooms], ids(), '', true);
    const show = after(bare, changes);
    const each = show.macros.map(({ id, params }) => ({
      starts: params.map(({ key }) => key),
      given: show.buttons.flatMap(({ steps: [step] }) =>
        step?.kind === 'run' && step.macro === id ? [step.params.recorder] : [],
      ),
    }));
    const recorders = bare.devices.filter(({ kind }) => kind === 'recorder').map(({ key }) => key);
    expect(each.flatMap(({ given }) => given).sort()).toEqual([...recorders].sort());
    expect(each.map(({ starts }) => starts)).toEqual(each.map(() => ['recorder']));
    const program = compileProgram(show, 2);
    expect(show.buttons.flatMap(({ id }) => program.faultOf(id)?.message ?? [])).toEqual([]);
  });

  it('do all that they say: none of their buttons refuses its press, none names what is not there', () => {
    const { changes } = stripsMade(demo, PANEL, stripOffers(demo), ids());
    const made = new Set(changes.map(({ id }) => id));
    const show = after(demo, changes);
    const refused = compileProgram(show, 2)
      .faults()
      .flatMap(({ message, path = '' }) => {
        const [list, at] = path.split('.');
        const button = list === 'buttons' ? show.buttons[Number(at)] : undefined;
        return button !== undefined && made.has(button.id) ? [`${button.legend}: ${message}`] : [];
      });
    expect(refused).toEqual([]);
    // Every kind of device of the demo but those without buttons of their own: what only listens, and what a profile describes.
    expect(made.size).toBeGreaterThan(200);
  });

  it('come below the strips of their panel, in their order', () => {
    const panel = demo.panels[1]?.id ?? '';
    const [sources, , keyers] = stripOffers(demo);
    const { changes, strips } = stripsMade(
      demo,
      panel,
      [sources, keyers].flatMap((stripOffer) => stripOffer ?? []),
      ids(),
    );
    const show = after(demo, changes);
    const order = show.strips
      .filter(({ panelId }) => panelId === panel)
      .sort((a, b) => (a.order < b.order ? -1 : 1))
      .map(({ id }) => id);
    expect(order.slice(-2)).toEqual(strips);
    const first = show.buttons
      .filter(({ stripId }) => stripId === strips[0])
      .sort((a, b) => (a.order < b.order ? -1 : 1));
    expect(first.map(({ legend }) => legend).slice(0, 4)).toEqual(['Desk cam', 'Lawn cam', 'Dome cam', 'Roof cam']);
  });

  it('name their device where it is not the only one of its kind', () => {
    const two = withDevice(bare, 'captions', { key: 'captions2', name: 'Captions two' });
    const names = (show: ShowDocument) =>
      stripOffers(show)
        .filter(({ words }) => words === 'Captions out')
        .flatMap(({ strips }) => strips.map(({ name }) => name));
    expect(names(bare)).toEqual(['Captions out']);
    expect(names(two)).toEqual(['Captions: Captions out', 'Captions two: Captions out']);
  });

  it('offer no second take', () => {
    expect(stripOffers(demo).some(({ words }) => words.startsWith('Take'))).toBe(false);
  });

  it('put recorders into rooms, with a start and a stop for each and for all, and count recordings once', () => {
    const offer = stripOffers(bare).find(({ key }) => key === 'recorders/rooms');
    expect(offer?.strips.map(({ name, buttons }) => [name, buttons.length])).toEqual([
      ['All recorders', 2],
      ...[...new Set(bare.devices.filter(({ kind }) => kind === 'recorder').map(({ room }) => room))].map((room) => [
        room,
        2 + bare.devices.filter((device) => device.kind === 'recorder' && device.room === room).length,
      ]),
    ]);
    const newId = ids();
    const once = after(bare, stripsMade(bare, PANEL, offer ? [offer] : [], newId).changes);
    const twice = after(once, stripsMade(once, PANEL, offer ? [offer] : [], newId).changes);
    expect(twice.values.filter(({ key }) => key === 'recordings')).toHaveLength(1);
  });

  it('leave a condition out that would be longer than a show may hold', () => {
    let show = bare;
    for (let at = 0; at < 90; at += 1)
      show = withDevice(show, 'recorder1', {
        id: `01J0C0RVANEH1DEV00000${String(1000 + at).padStart(5, '0')}`,
        key: `recorderInTheHouse${at}`,
        port: 10_000 + at,
      });
    const offer = stripOffers(show).find(({ key }) => key === 'recorders/rooms');
    const made = after(show, stripsMade(show, PANEL, offer ? [offer] : [], ids()).changes);
    expect(made.buttons.find(({ legend }) => legend === 'Record all')?.steps.map(({ kind }) => kind)).toEqual([
      'set',
      'together',
    ]);
  });

  it('make a first panel of what nearly every show needs', () => {
    const { changes } = firstPanel(bare, ids());
    const show = after(bare, changes);
    expect(show.panels.map(({ name }) => name)).toEqual(['Main']);
    expect(show.strips.map(({ name }) => name)).toEqual([
      'Sources',
      'Take',
      'Choose',
      'Move',
      'Desk cam: positions',
      'Lawn cam: positions',
      'Dome cam: positions',
      'All recorders',
      ...new Set(bare.devices.filter(({ kind }) => kind === 'recorder').map(({ room }) => room)),
      'Captions out',
    ]);
    expect(
      compileProgram(show, 1)
        .faults()
        .filter(({ weight }) => weight !== 'listed'),
    ).toEqual([]);
  });
});
