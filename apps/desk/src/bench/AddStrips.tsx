import { searched, stripOffers, type StripOffer, type StripPlan } from '@umbek/core/programming';
import type { ShowDocument } from '@umbek/core/show';
import { useEffect, useMemo, useState } from 'react';
import { FlatList, Pressable, StyleSheet, Text, View } from 'react-native';
import { Button, Switch } from 'react-native-paper';
import { Search } from '../common/Search';
import { Sheet } from '../common/Sheet';
import { Icon } from '../theme/Icon';
import { familyFill } from '../theme/patterns';
import { colour, families, font } from '../theme/tokens';

/** So many caps of a strip are shown before it is made; the rest is counted. */
const CAPS_SHOWN = 8;

interface AddStripsProps {
  readonly document: ShowDocument;
  readonly panel: string;
  readonly visible: boolean;
  readonly onClose: () => void;
  /** @param share buttons that differ in one thing run one macro */
  readonly onAdd: (offers: readonly StripOffer[], share: boolean) => void;
  readonly onEmpty: () => void;
  /** Strips, or a panel, from a file. */
  readonly onFile: () => void;
}

/** Ready-made strips from the rig, shown as caps before they are made; one or several are added at once. */
export function AddStrips({ document, panel, visible, onClose, onAdd, onEmpty, onFile }: AddStripsProps) {
  const [search, setSearch] = useState('');
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const [share, setShare] = useState(false);
  useEffect(() => {
    if (!visible) return;
    setSearch('');
    setChosen([]);
    setShare(false);
  }, [visible]);
  // Only while it is open: a large rig has many, and the panel behind is drawn at every edit.
  const offers = useMemo(() => (visible ? stripOffers(document) : []), [visible, document]);
  const rows = useMemo(() => searched(offers, search), [offers, search]);
  const picked = chosen.flatMap((key) => offers.find((offer) => offer.key === key) ?? []);
  const strips = picked.reduce((sum, offer) => sum + offer.strips.length, 0);
  const toggle = (key: string): void =>
    setChosen((now) => (now.includes(key) ? now.filter((candidate) => candidate !== key) : [...now, key]));
  return (
    <Sheet
      title={`Add strips to ${panel}`}
      visible={visible}
      onClose={onClose}
      actions={<Button onPress={onClose}>Close</Button>}
    >
      <Search
        placeholder="Search"
        value={search}
        onChangeText={setSearch}
        accessibilityLabel="Search: strips"
        style={styles.search}
        inputStyle={styles.searchInput}
      />
      <FlatList
        style={styles.list}
        data={rows}
        keyExtractor={(offer) => offer.key}
        initialNumToRender={8}
        keyboardShouldPersistTaps="always"
        ListEmptyComponent={
          <Text style={styles.nothing}>
            {offers.length === 0
              ? 'Add devices in the Rig first: they bring their strips along. An empty strip can be added now.'
              : 'Nothing found. Search for a device or for what the strip does.'}
          </Text>
        }
        renderItem={({ item, index }) => (
          <View>
            {item.group === rows[index - 1]?.group ? null : <Text style={styles.group}>{item.group}</Text>}
            <OfferRow offer={item} chosen={chosen.includes(item.key)} onPress={() => toggle(item.key)} />
          </View>
        )}
      />
      {strips === 0 ? null : (
        <View style={styles.share}>
          <Text style={styles.shareWords}>
            Buttons that differ in one thing share a macro: changed once, all follow.
          </Text>
          <Switch value={share} onValueChange={setShare} accessibilityLabel="Share one macro" />
        </View>
      )}
      <View style={styles.foot}>
        <Button mode="outlined" onPress={onEmpty}>
          An empty strip
        </Button>
        <Button mode="outlined" icon="upload" onPress={onFile}>
          From a file
        </Button>
        <Button
          mode="contained"
          icon="plus"
          disabled={strips === 0}
          style={styles.fill}
          onPress={() => onAdd(picked, share)}
          testID="add-strips"
        >
          {strips === 0 ? 'Choose strips' : strips === 1 ? 'Add 1 strip' : `Add ${strips} strips`}
        </Button>
      </View>
    </Sheet>
  );
}

function OfferRow({
  offer,
  chosen,
  onPress,
}: {
  readonly offer: StripOffer;
  readonly chosen: boolean;
  readonly onPress: () => void;
}) {
  const caps = offer.strips.reduce((sum, strip) => sum + strip.buttons.length, 0);
  return (
    <Pressable
      role="button"
      aria-pressed={chosen}
      accessibilityLabel={`${offer.words}, ${caps} ${caps === 1 ? 'cap' : 'caps'}`}
      onPress={onPress}
      style={[styles.row, chosen && styles.chosen]}
    >
      <View style={styles.rowHead}>
        <Text style={styles.words}>{offer.words}</Text>
        {chosen ? <Icon name="check" size={20} color={colour.cap} /> : null}
      </View>
      {offer.strips.map((strip, at) => (
        <StripAhead key={`${strip.name}${at}`} strip={strip} />
      ))}
    </Pressable>
  );
}

/** A strip before it is made: its plate, and its caps with what they will say. */
const StripAhead = ({ strip }: { readonly strip: StripPlan }) => (
  <View style={styles.ahead}>
    <View style={[styles.plate, familyFill(strip.family)]}>
      <Text numberOfLines={1} style={[styles.plateName, { backgroundColor: families[strip.family] }]}>
        {strip.name.toUpperCase()}
      </Text>
    </View>
    <View style={styles.caps}>
      {strip.buttons.slice(0, CAPS_SHOWN).map((button, at) => (
        <View
          key={`${button.legend}${at}`}
          style={[styles.cap, { borderTopColor: families[button.family ?? strip.family] }]}
        >
          <Text numberOfLines={1} style={styles.legend}>
            {button.legend.replace(/\{\{.*?\}\}/gs, '…')}
          </Text>
        </View>
      ))}
      {strip.buttons.length > CAPS_SHOWN ? (
        <Text style={styles.more}>{`and ${strip.buttons.length - CAPS_SHOWN} more`}</Text>
      ) : null}
    </View>
  </View>
);

const styles = StyleSheet.create({
  search: { backgroundColor: colour.ground, borderRadius: 6, height: 48 },
  searchInput: { fontFamily: font.regular, fontSize: 17, minHeight: 0 },
  list: { flex: 1 },
  group: {
    fontFamily: font.semibold,
    fontSize: 13,
    letterSpacing: 0.6,
    color: colour.muted,
    paddingTop: 12,
    paddingBottom: 4,
    paddingHorizontal: 4,
  },
  row: { gap: 8, padding: 12, backgroundColor: colour.raised, borderRadius: 6, marginBottom: 6 },
  chosen: { boxShadow: `inset 0 0 0 2px ${colour.cap}` },
  rowHead: { flexDirection: 'row', alignItems: 'center', gap: 8, minHeight: 24 },
  words: { flex: 1, fontFamily: font.medium, fontSize: 17, color: colour.text },
  ahead: { gap: 4 },
  plate: { alignSelf: 'flex-start', borderRadius: 4, paddingHorizontal: 6, paddingVertical: 2 },
  plateName: {
    fontFamily: font.bold,
    fontSize: 11,
    letterSpacing: 0.5,
    color: colour.ink,
    borderRadius: 3,
    paddingHorizontal: 3,
  },
  caps: { flexDirection: 'row', flexWrap: 'wrap', gap: 4, alignItems: 'center' },
  cap: {
    minWidth: 78,
    maxWidth: 160,
    height: 26,
    borderRadius: 4,
    borderTopWidth: 4,
    backgroundColor: colour.cap,
    paddingHorizontal: 4,
    justifyContent: 'center',
  },
  legend: { fontFamily: font.semibold, fontSize: 13, color: colour.legend },
  more: { fontFamily: font.regular, fontSize: 14, color: colour.muted, paddingHorizontal: 4 },
  share: { flexDirection: 'row', alignItems: 'center', gap: 8, paddingHorizontal: 4 },
  shareWords: { flex: 1, fontFamily: font.regular, fontSize: 14, lineHeight: 18, color: colour.muted },
  foot: { flexDirection: 'row', flexWrap: 'wrap', gap: 8 },
  fill: { flexGrow: 1, flexBasis: 170 },
  nothing: { fontFamily: font.regular, fontSize: 16, lineHeight: 22, color: colour.muted, padding: 16 },
});
