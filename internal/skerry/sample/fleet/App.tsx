import React from 'react';
import {SafeAreaView, StyleSheet, Text} from 'react-native';

/** Where the boats are, for the line's own people. */
export default function App() {
  return (
    <SafeAreaView>
      <Text style={styles.title}>Three boats out</Text>
    </SafeAreaView>
  );
}

const styles = StyleSheet.create({
  title: {fontSize: 28},
});
