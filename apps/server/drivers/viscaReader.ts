import { type PtzSettings, ZOOM_CODE_MAX, zoomRatioOf } from '@umbek/core/devices';
import type { Points } from '@umbek/core/devices';
import { type HeadInquiry, panTiltOf, zoomOf } from '@umbek/wire/visca';
import { lensPoints } from './viscaLens';

/** Where a head looks, as far as it has told: degrees, and the zoom ratio. */
export interface Place {
  readonly pan: number | null;
  readonly tilt: number | null;
  readonly zoom: number | null;
}

export const NOWHERE: Place = { pan: null, tilt: null, zoom: null };
/** Answers to older inquiries than these are not waited for any more. */
const INQUIRIES_KEPT = 256;

const round = (value: number): number => Math.round(value * 1000) / 1000;

/** Asks a head where it looks and how its camera is set, and understands its answers by the number of the inquiry. */
export class ViscaReader {
  place: Place = NOWHERE;
  private readonly inquiries = new Map<number, HeadInquiry>();
  /** Number of the latest inquiry of a kind that was answered: an older answer that comes after it is no news. */
  private readonly latest = new Map<HeadInquiry, number>();

  /** Numbers of the inquiries that what was told last came from. */
  private toldOf = { turned: -1, zoomed: -1 };

  constructor(
    private readonly settings: PtzSettings,
    private readonly listener: {
      /** Puts an inquiry on the wire. @returns its sequence number */
      ask(inquiry: HeadInquiry): number;
      /** Pan, tilt and zoom are all known anew. @param asked number of the older one of the two inquiries that told them */
      place(pan: number, tilt: number, zoom: number, asked: number): void;
      lens(points: Points): void;
      malformed(): void;
    },
  ) {}

  /** Where does it look? */
  look(): void {
    this.inquire('panTilt');
    this.inquire('zoom');
  }

  inquire(inquiry: HeadInquiry): void {
    this.inquiries.set(this.listener.ask(inquiry), inquiry);
    const oldest = this.inquiries.keys().next();
    if (this.inquiries.size > INQUIRIES_KEPT && !oldest.done) this.inquiries.delete(oldest.value);
  }

  /** The head counts anew: what was asked before is not answered any more. */
  restart(): void {
    this.place = NOWHERE;
    this.inquiries.clear();
    this.latest.clear();
    this.toldOf = { turned: -1, zoomed: -1 };
  }

  answer(sequence: number, data: Uint8Array): void {
    const inquiry = this.inquiries.get(sequence);
    this.inquiries.delete(sequence);
    if (inquiry === undefined || (this.latest.get(inquiry) ?? -1) > sequence) return;
    this.latest.set(inquiry, sequence);
    if (inquiry === 'panTilt') {
      const counts = panTiltOf(data);
      if (!counts.ok) return this.listener.malformed();
      const { countsPerDegree } = this.settings;
      this.place = {
        ...this.place,
        pan: round(counts.value.panCounts / countsPerDegree),
        tilt: round(counts.value.tiltCounts / countsPerDegree),
      };
      this.tellWhole();
    } else if (inquiry === 'zoom') {
      const code = zoomOf(data);
      if (!code.ok || code.value > ZOOM_CODE_MAX) return this.listener.malformed();
      this.place = { ...this.place, zoom: round(zoomRatioOf(code.value, this.settings)) };
      this.tellWhole();
    } else {
      const points = lensPoints(inquiry, data);
      if (points === undefined) this.listener.malformed();
      else this.listener.lens(points);
    }
  }

  /** Both halves of where it looks, each answered since it was told last: one whose other half got lost says nothing new. */
  private tellWhole(): void {
    const { pan, tilt, zoom } = this.place;
    const [turned, zoomed] = [this.latest.get('panTilt') ?? -1, this.latest.get('zoom') ?? -1];
    if (pan === null || tilt === null || zoom === null) return;
    if (turned <= this.toldOf.turned || zoomed <= this.toldOf.zoomed) return;
    this.toldOf = { turned, zoomed };
    this.listener.place(pan, tilt, zoom, Math.min(turned, zoomed));
  }
}
