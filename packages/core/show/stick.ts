/** How a joystick answers the hand unless a show says otherwise; no schema, so that a station's first load goes without. */
export const STICK = { deadZone: 0.12, curve: 2, range: '' } as const;
