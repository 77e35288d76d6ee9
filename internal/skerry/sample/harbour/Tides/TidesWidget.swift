import SwiftUI
import WidgetKit

/// High water, on the home screen.
struct TidesView: View {
    var body: some View {
        Text("High water 11:05")
    }
}
