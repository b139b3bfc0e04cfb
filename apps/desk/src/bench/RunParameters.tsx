import { fieldOfParam, sharersOf } from '@umbek/core/programming';
import type { ShowDocument, Step } from '@umbek/core/show';
import { StyleSheet, Text, View } from 'react-native';
import { PlaceLink } from '../show/PlaceLink';
import { ParamField } from '../steps/ParamField';
import { colour, font } from '../theme/tokens';

/** What a step gives the macro that it runs, and who else runs it. */
export function RunParameters({
  document,
  step,
  onChange,
}: {
  readonly document: ShowDocument;
  readonly step: Extract<Step, { kind: 'run' }>;
  readonly onChange: (step: Step) => void;
}) {
  const macro = document.macros.find((candidate) => candidate.id === step.macro);
  if (macro === undefined) return <Text style={styles.words}>Its macro is gone. Remove this step.</Text>;
  const sharers = sharersOf(document, macro.id).length;
  return (
    <View style={styles.all}>
      {macro.params.map(({ key, start }) => {
        const { field, device } = fieldOfParam(document, macro, key);
        return (
          <ParamField
            key={key}
            document={document}
            device={device}
            field={{ ...field, optional: false }}
            value={step.params[key] ?? start}
            fromValues
            onChange={(value) => {
              const { [key]: _gone, ...rest } = step.params;
              onChange({ ...step, params: value === undefined ? rest : { ...rest, [key]: value } });
            }}
          />
        );
      })}
      {sharers > 1 ? (
        <Text style={styles.share}>{`${sharers} buttons share this macro. Change it once, all follow.`}</Text>
      ) : null}
      <PlaceLink at={{ entity: 'macros', id: macro.id, path: [] }} words={`Open macro ${macro.number} ${macro.name}`} />
    </View>
  );
}

const styles = StyleSheet.create({
  all: { gap: 10 },
  words: { fontFamily: font.regular, fontSize: 15, color: colour.muted },
  share: { fontFamily: font.medium, fontSize: 15, color: colour.warning },
});
