import { corvaneHill, demoId } from '@umbek/demo';
import { applyEdit, asStored, type Change, inverseOf } from './index';

const show = corvaneHill();
const edit = (...changes: Change[]) => applyEdit(show, { changes });
const rename: Change = { entity: 'panels', id: demoId('PAN', 1), field: 'name', from: 'Main', to: 'First' };

describe('an edit', () => {
  it('changes one field and leaves the document that it began with', () => {
    const changed = edit(rename);
    expect(changed.ok && changed.value.panels[0]?.name).toBe('First');
    expect(show.panels[0]?.name).toBe('Main');
  });

  it('makes and removes entries as a whole', () => {
    const id = demoId('PAN', 9);
    const made = edit({ entity: 'panels', id, field: '*', from: null, to: { id, name: 'New', order: 'z' } });
    expect(made.ok && made.value.panels.map((panel) => panel.name)).toEqual([
      'Main',
      'Cameras',
      'Replay',
      'Recording',
      'Routing',
      'Lines',
      'New',
    ]);
    const removed = edit({ entity: 'panels', id: demoId('PAN', 2), field: '*', from: show.panels[1], to: null });
    expect(removed.ok && removed.value.panels.map((panel) => panel.name)).toEqual([
      'Main',
      'Replay',
      'Recording',
      'Routing',
      'Lines',
    ]);
  });

  it('is refused as a whole when one of its fields was changed meanwhile, with the newer value', () => {
    const conflict = edit(
      { entity: 'panels', id: demoId('PAN', 2), field: 'name', from: 'Cameras', to: 'Heads' },
      { ...rename, from: 'Old' },
    );
    expect(conflict).toMatchObject({ ok: false, error: [{ code: 'conflict', path: 'changes.1.from', newer: 'Main' }] });
  });

  it('is told on with the contents as they are stored, usual values and all', () => {
    const id = demoId('SRC', 901);
    // Sent from outside, without what the schema adds.
    const sent = { id, key: 'shed', name: 'Shed', shortName: 'Shed', family: 'moss', input: null, order: 'z' };
    const changes: Change[] = [
      { entity: 'sources', id, field: '*', from: null, to: sent },
      rename,
      { entity: 'devices', id: demoId('DEV', 1), field: 'room', from: 'Studio', to: 'A' },
      { entity: 'devices', id: demoId('DEV', 1), field: 'room', from: 'A', to: 'B' },
    ];
    const before = { ...show, devices: show.devices.map((device) => ({ ...device, room: 'Studio' })) };
    const after = applyEdit(before, { changes });
    expect(after.ok && asStored(after.value, changes)).toEqual([
      { ...changes[0], to: { ...sent, camera: null, picture: 'none', line: null } },
      rename,
      // An entry changed twice is told step by step, as it was sent.
      changes[2],
      changes[3],
    ]);
  });

  it('is refused where the result fits no schema, touches a key, or names what is not there', () => {
    expect(edit({ ...rename, to: '' })).toMatchObject({
      ok: false,
      error: [{ code: 'bad-field', path: 'changes.0.to.name' }],
    });
    expect(edit({ entity: 'devices', id: demoId('DEV', 1), field: 'key', from: 'deskCam', to: 'other' })).toMatchObject(
      { ok: false, error: [{ code: 'fixed-field' }] },
    );
    expect(edit({ ...rename, id: demoId('PAN', 7) })).toMatchObject({ ok: false, error: [{ code: 'unknown-id' }] });
  });
});

describe('taking an edit back', () => {
  const two: Change[] = [
    rename,
    { entity: 'panels', id: demoId('PAN', 2), field: 'name', from: 'Cameras', to: 'Heads' },
  ];
  it('gives the old values again, last change first', () => {
    const changed = edit(...two);
    if (!changed.ok) throw new Error('refused');
    const back = inverseOf(changed.value, { changes: two });
    expect(back).toEqual({
      changes: [
        { entity: 'panels', id: demoId('PAN', 2), field: 'name', from: 'Heads', to: 'Cameras' },
        { entity: 'panels', id: demoId('PAN', 1), field: 'name', from: 'First', to: 'Main' },
      ],
      kept: [],
    });
    const restored = applyEdit(changed.value, { changes: back.changes });
    expect(restored.ok && restored.value).toEqual(show);
  });

  it('leaves what was changed since, and says so', () => {
    expect(inverseOf(show, { changes: two })).toEqual({
      changes: [],
      kept: ['name of Cameras was changed since.', 'name of Main was changed since.'],
    });
  });
});
