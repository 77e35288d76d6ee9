import SwiftUI

/// The sign at the end of a quay, for every app of the line.
public struct QuaySign: View {
    private let number: Int

    public init(number: Int) {
        self.number = number
    }

    public var body: some View {
        Text("Quay \(number)")
            .font(.system(size: 28, weight: .bold))
    }
}
