import { corvaneHill } from '@umbek/demo';
import { hrefOf } from './hrefOf';

const show = corvaneHill();
const [panel, strip, button, device, position, source, macro, profile] = [
  show.panels[0],
  show.strips[0],
  show.buttons[0],
  show.devices[0],
  show.positions[0],
  show.sources[0],
  show.macros[0],
  show.profiles[0],
];

describe('the address of a place of the show', () => {
  it('is where it is programmed', () => {
    expect(hrefOf(show, { entity: 'buttons', id: button?.id ?? '' })).toBe(`/bench?p=${panel?.id}&b=${button?.id}`);
    expect(hrefOf(show, { entity: 'strips', id: strip?.id ?? '' })).toBe(`/bench?p=${strip?.panelId}&s=${strip?.id}`);
    expect(hrefOf(show, { entity: 'panels', id: panel?.id ?? '' })).toBe(`/bench?p=${panel?.id}`);
    expect(hrefOf(show, { entity: 'devices', id: device?.id ?? '' })).toBe(`/rig/${device?.key}?part=setUp`);
    expect(hrefOf(show, { entity: 'positions', id: position?.id ?? '' })).toBe(`/rig/${position?.camera}?part=camera`);
    expect(hrefOf(show, { entity: 'sources', id: source?.id ?? '' })).toBe(`/rig?part=sources&source=${source?.id}`);
    expect(hrefOf(show, { entity: 'profiles', id: profile?.id ?? '' })).toBe(`/rig/profiles/${profile?.key}`);
    expect(hrefOf(show, { entity: 'macros', id: macro?.id ?? '' })).toBe(`/bench?list=macros&m=${macro?.id}`);
    expect(hrefOf(show, { entity: 'show', id: show.show.id })).toBe('/rig?part=show');
    expect(hrefOf(show, { entity: 'show', id: show.show.id, path: ['stick'] })).toBe('/bench?list=shortcuts&v=stick');
  });

  it('is none for what is gone, and for what has no place to be programmed yet', () => {
    expect(hrefOf(show, { entity: 'buttons', id: 'gone' })).toBeNull();
    expect(hrefOf(show, { entity: 'strips', id: 'gone' })).toBeNull();
    expect(hrefOf(show, { entity: 'macros', id: 'gone' })).toBeNull();
  });
});
