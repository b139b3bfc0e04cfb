import { Later } from './common/later';

/** Every place but the Desk. */
export const laterPlaces = new Later(() => import('./places'));
export type Places = NonNullable<ReturnType<typeof laterPlaces.now>>;
