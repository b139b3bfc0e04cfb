import { colour } from './tokens';

const ID = 'umbek-page-styles';

/** A ring around what the keyboard has reached, on caps, plates and fields alike; a finger or a mouse does not bring it up. And what is held looks pressed. */
export function addPageStyles(): void {
  if (typeof document === 'undefined' || document.getElementById(ID) !== null) return;
  const style = document.createElement('style');
  style.id = ID;
  style.textContent = `:focus-visible { outline: 3px solid ${colour.warning} !important; outline-offset: 2px !important; border-radius: 5px; }
[data-press][data-touched] { transform: translateY(1px); background-color: ${colour.capDown}; }
input:focus-visible, textarea:focus-visible { outline: none !important; }`;
  document.head.appendChild(style);
}
