import { corvaneHill } from '@umbek/demo';
import { applyEdit } from '@umbek/core/show';
import { planCsv } from './csvPlan';

const show = corvaneHill();
const words = (text: string, target: 'devices' | 'sources') =>
  planCsv(text, target, show).faults.map((fault) => `${fault.line}: ${fault.words}`);

describe('a list as CSV', () => {
  it('makes devices, seen before they are made', () => {
    const plan = planCsv(
      'Name;Kind;Address;Port;Room\nWall left;Venue screen;10.0.0.7;8080;Tent\n"Wall; right";venueScreen;10.0.0.8;8080;Tent\n',
      'devices',
      show,
    );
    expect(plan.faults).toEqual([]);
    expect(plan.preview).toEqual([
      'Wall left · venueScreen · 10.0.0.7:8080 · Tent',
      'Wall; right · venueScreen · 10.0.0.8:8080 · Tent',
    ]);
    const applied = applyEdit(show, { changes: plan.changes });
    expect(applied.ok && applied.value.devices.slice(-2).map(({ key, kind, port }) => [key, kind, port])).toEqual([
      ['wallLeft', 'venueScreen', 8080],
      ['wallRight', 'venueScreen', 8080],
    ]);
  });

  it('tells the line of every fault, and makes nothing then', () => {
    const text =
      'name,kind,address,port\nA,recorder,127.0.0.1,9001\nA,recorder,127.0.0.1,9002\nB,pigeon,127.0.0.1,9003\nC,recorder,300.1.1.1,9004\nD,recorder,127.0.0.1,99999\nE,recorder,127.0.0.1,9001\nDesk cam,recorder,127.0.0.1,9006';
    expect(words(text, 'devices').map((item) => item.slice(0, 40))).toEqual([
      '3: A is there already, on line 2. Give a',
      '4: There is no kind pigeon. Give one of ',
      '5: Each number of an IP address is at mo',
      '6: A port is a whole number from 1 to 65',
      '7: Line 2 is at 127.0.0.1:9001 as well. ',
      '8: Desk cam is there already. Give anoth',
    ]);
    expect(planCsv(text, 'devices', show).changes).toEqual([]);
  });

  it('tells an input that another source has, in the show or in the list, and one that the switcher does not have', () => {
    const used = new Set(show.sources.map(({ input }) => input));
    const free = Array.from({ length: 20 }, (_, at) => at + 1).find((input) => !used.has(input)) ?? 0;
    expect(words(`name,input\nNew one,1\nOther,${free}\nThird,${free}\nFourth,900`, 'sources')).toEqual([
      '2: Input 1 belongs to Desk cam already. Give another input.',
      `4: Input ${free} belongs to Other already. Give another input.`,
      expect.stringMatching(/^5: The switcher has no input 900: its numbers end at \d+\.$/),
    ]);
    // Two sources of the list that change places are no fault.
    expect(words('name,input\nDesk cam,2\nLawn cam,1', 'sources')).toEqual([]);
  });

  it('tells missing columns, broken quotes, an empty list and one of 10,000 lines', () => {
    expect(words('name,port\nA,1', 'devices')).toEqual([
      '1: The heading lacks kind, address. Begin with a line such as name,kind,address,port.',
    ]);
    expect(words('name,input\n"A,1', 'sources')).toEqual([
      '2: A quotation mark is never closed. Close it, or leave both out.',
    ]);
    expect(words('name,input\n', 'sources')).toEqual(['2: There is nothing below the heading.']);
    expect(words(`name,input\n${'A,1\n'.repeat(10_000)}`, 'sources')).toEqual([
      '1002: These are 10000 lines; at most 1000 can be taken in one go. Split the list.',
    ]);
  });

  it('changes a source of the same name and keeps its key', () => {
    const plan = planCsv('name,input,short name,family\nRoof cam,12,,plum\nGarden,13,Grdn,moss\n', 'sources', show);
    expect(plan.preview).toEqual(['Roof cam becomes input 12', 'Garden · input 13']);
    const applied = applyEdit(show, { changes: plan.changes });
    expect(applied.ok && applied.value.sources.find((source) => source.key === 'roofCam')).toMatchObject({
      input: 12,
      family: 'plum',
      shortName: 'Roof',
    });
    expect(words('name,input,family\nX,0,moss\nY,,green', 'sources').map((item) => item.slice(0, 22))).toEqual([
      '2: An input is a whole',
      '3: There is no family ',
    ]);
  });

  it('labels a router on both sides', () => {
    const router = show.devices.find((device) => device.key === 'exchange');
    const plan = planCsv('side,number,label\nsource,2,Desk cam\ndestination,1,Lawn screen', 'labels', show, router);
    expect(plan.preview).toEqual(['source 2: Desk cam', 'destination 1: Lawn screen']);
    expect(plan.changes[0]?.to).toMatchObject({
      destinations: 32,
      sourceLabels: ['', 'Desk cam'],
      destinationLabels: ['Lawn screen'],
    });
    expect(planCsv('side,number,label\nsource,33,X', 'labels', show, router).faults).toEqual([
      { line: 2, words: 'Exchange counts its sources from 1 to 32.' },
    ]);
  });
});
