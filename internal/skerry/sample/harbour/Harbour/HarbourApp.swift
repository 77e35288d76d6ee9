import SwiftUI

@main
struct HarbourApp: App {
    var body: some Scene {
        WindowGroup {
            Text("Harbour")
        }
    }
}
