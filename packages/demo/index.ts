/** The demo show, "The Long Night at Corvane Hill", as far as the kinds of device reach. All of it is invented. */
export * from './corvaneHill';
export * from './demoId';
