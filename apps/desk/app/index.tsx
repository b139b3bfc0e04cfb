import { DeskScreen } from '../src/desk/DeskScreen';
import { Boundary } from '../src/common/Boundary';

/** Within the place: around the way to all of them it would lead back to the first. */
export default function Desk() {
  return (
    <Boundary>
      <DeskScreen />
    </Boundary>
  );
}
