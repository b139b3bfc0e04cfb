import { colour } from './tokens';

const ID = 'umbek-page-styles';

/**
 * A ring around what the keyboard has reached, on caps, plates and fields alike; a finger or a mouse does not bring it up. What is held looks pressed. And
 * the second line of a cap has its size from here, whatever it says: a level that changes five times a second lays out nothing but itself. A flex item
 * cannot be laid out alone, a block can.
 */
export function addPageStyles(): void {
  if (typeof document === 'undefined' || document.getElementById(ID) !== null) return;
  const style = document.createElement('style');
  style.id = ID;
  style.textContent = `:focus-visible { outline: 3px solid ${colour.warning} !important; outline-offset: 2px !important; border-radius: 5px; }
[data-press][data-touched] { transform: translateY(1px); background-color: ${colour.capDown}; }
[data-words="second"][data-lines="1"]:not(:empty) { contain: strict; height: 15px; }
input:focus-visible, textarea:focus-visible { outline: none !important; }`;
  document.head.appendChild(style);
}
