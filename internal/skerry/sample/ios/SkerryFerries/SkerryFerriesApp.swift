import SwiftUI

@main
struct SkerryFerriesApp: App {
    var body: some Scene {
        WindowGroup {
            DeparturesView()
        }
    }
}
