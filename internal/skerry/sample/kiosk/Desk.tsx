import * as React from 'react';
import {Text, View} from 'react-native';

/** The screen on the ticket desk. */
export function Desk() {
  return (
    <View>
      <Text style={{fontSize: 28}}>Next boat: 07:40, Holm</Text>
    </View>
  );
}
