import type { Family, ShowDocument } from '@umbek/core/show';
import { memo, useContext, useState } from 'react';
import { StyleSheet, Text, View } from 'react-native';
import { useConnection, useFace, useLive, usePressState } from '../live/LiveContext';
import { usePressTarget } from '../live/usePressTarget';
import { KeyHints } from '../keys/KeyHints';
import { CapFace } from '../caps/CapFace';
import { CapPicture } from '../caps/CapPicture';
import { colour, font } from '../theme/tokens';
import { capWords } from './capWords';
import { useFaceButWords, useLiveWords } from './useLiveWords';

export interface CapProps {
  readonly buttonId: string;
  readonly legend: string;
  readonly icon?: string;
  /** What it shows a picture of; left out for nothing. */
  readonly picture?: string;
  /** Where what it shows is looked up. */
  readonly document?: ShowDocument;
  readonly note: string;
  readonly family: Family;
  /** In place of the button's own second line. */
  readonly lastly?: string;
  readonly large?: boolean;
  /** A hold button answers to the finger's whole stay. */
  readonly hold?: boolean;
  /** It is there only while what it stands for is. */
  readonly follows?: boolean;
}

/** Where a cap comes and goes: its place is kept, so that no other one moves. */
const EmptyPlace = ({ id, words }: { readonly id: string; readonly words: string }) => (
  <View style={styles.empty} testID={`place-${id}`}>
    <Text style={styles.emptyWords}>{words}</Text>
  </View>
);

/** A cap at its place: the face of its button. */
export const Cap = memo(function Cap(props: CapProps) {
  return props.follows === true ? <ComingCap {...props} /> : <PressedCap {...props} />;
});

/** A cap that comes and goes: an empty place while what it stands for is not there. */
function ComingCap(props: CapProps) {
  const { buttonId } = props;
  const face = useFace(buttonId);
  const press = usePressState(buttonId);
  const [held, setHeld] = useState(false);
  const away = face === undefined || face.away === true;
  // What is pressed stays in sight until that is over, whatever has come and gone meanwhile.
  if (away && !held && (press === undefined || press.phase === 'done'))
    return <EmptyPlace id={buttonId} words={face?.lost === true ? 'no answer' : ''} />;
  return <PressedCap {...props} onHeld={setHeld} />;
}

/** The visible face of a button: what is pressed. */
function PressedCap({
  buttonId,
  legend,
  icon = '',
  picture,
  document,
  note,
  family,
  lastly,
  large = false,
  hold = false,
  onHeld,
}: CapProps & { readonly onHeld?: (held: boolean) => void }) {
  const ref = usePressTarget((live) => live.down(buttonId), onHeld);
  const live = useLive();
  const face = useFaceButWords(buttonId);
  const press = usePressState(buttonId);
  const key = useContext(KeyHints).get(buttonId);
  const away = useConnection() === 'lost';
  const written = { legend, note, lastly, hold };
  const { legend: says, second, label, lamp, telling } = capWords(written, face, press, away);
  useLiveWords(ref, buttonId, () =>
    capWords(written, live.face(buttonId), live.pressState(buttonId), live.getState().connection === 'lost'),
  );
  return (
    <CapFace
      hostRef={ref}
      legend={says}
      icon={icon}
      second={second}
      {...(picture === undefined || document === undefined
        ? {}
        : { picture: <CapPicture picture={picture} document={document} /> })}
      leftMs={press?.phase === 'working' && !away ? (press.leftMs ?? null) : null}
      lamp={lamp}
      lost={face?.lost === true || away}
      family={family}
      large={large}
      telling={telling}
      {...(key === undefined ? {} : { keyHint: key })}
      down={press?.phase === 'sent'}
      label={label}
      testID={`cap-${buttonId}`}
      data={{ lamp: lamp ?? 'none', press: press?.phase ?? 'none', lost: String(face?.lost === true || away) }}
    />
  );
}

const styles = StyleSheet.create({
  empty: {
    flex: 1,
    minHeight: 66,
    alignItems: 'center',
    justifyContent: 'center',
    borderRadius: 5,
    borderWidth: 1,
    borderStyle: 'dashed',
    borderColor: colour.hairline,
    opacity: 0.55,
  },
  emptyWords: { fontFamily: font.regular, fontSize: 13, color: colour.muted },
});
