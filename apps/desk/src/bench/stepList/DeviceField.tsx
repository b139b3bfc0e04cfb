import { kindOf } from '@umbek/core/devices';
import { deviceField, fieldsOf, fixedDevice, madeDeviceParam, wordsOfKey } from '@umbek/core/programming';
import type { Step } from '@umbek/core/show';
import { StyleSheet, View } from 'react-native';
import { Button } from 'react-native-paper';
import { useEdits } from '../../show/ShowContext';
import { ParamField } from '../../steps/ParamField';
import type { StepFieldProps } from '../owner';
import { GivenBox } from './GivenBox';

/** The device that a command goes to, where there are others like it; in a macro, the one that each button gives. */
export function DeviceField({
  document,
  owner,
  list,
  step,
  onChange,
}: StepFieldProps<Extract<Step, { kind: 'command' }>>) {
  const edits = useEdits();
  const field = deviceField(document, step, 'device');
  const inMacro = owner.entity === 'macros' && (list === 'steps' || list === 'stopSteps');
  if (step.deviceFrom !== undefined) {
    const { deviceFrom, ...rest } = step;
    return (
      <GivenBox
        title={field.title}
        given={wordsOfKey(deviceFrom)}
        onFixed={() =>
          inMacro
            ? edits.edit(`${field.title} set in ${owner.entry.name}`, fixedDevice(owner.entry, list, step))
            : onChange(rest)
        }
      />
    );
  }
  // A position belongs to its camera: another camera has others.
  const things = field.things ?? [];
  const device = document.devices.find(({ key }) => key === step.device);
  const definition = kindOf(device, document)?.commands[step.command];
  const bound = definition !== undefined && fieldsOf(definition).some(({ reference }) => reference === 'position');
  if (things.length < 2 || bound) return null;
  return (
    <View style={styles.params}>
      <ParamField
        document={document}
        device=""
        field={field}
        value={step.device}
        onChange={(device) => onChange({ ...step, device: String(device) })}
      />
      {inMacro ? (
        <Button
          compact
          style={styles.left}
          accessibilityLabel={`Make ${field.title} a parameter`}
          onPress={() =>
            edits.edit(
              `${field.title} a parameter of ${owner.entry.name}`,
              madeDeviceParam(document, owner.entry, list, step),
            )
          }
        >
          Each button gives its own
        </Button>
      ) : null}
    </View>
  );
}

const styles = StyleSheet.create({
  params: { gap: 10 },
  left: { alignSelf: 'flex-start' },
});
