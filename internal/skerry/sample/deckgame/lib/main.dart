import 'package:flutter/material.dart';

void main() => runApp(const DeckGame());

/// Spot the seal before the ferry has passed it.
class DeckGame extends StatelessWidget {
  const DeckGame({super.key});

  @override
  Widget build(BuildContext context) {
    return const MaterialApp(
      home: Scaffold(
        body: Center(
          child: Text('Where is the seal?', style: TextStyle(fontSize: 28)),
        ),
      ),
    );
  }
}
