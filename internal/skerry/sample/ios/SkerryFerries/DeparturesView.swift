import SwiftUI

struct Departure: Identifiable {
    let id = UUID()
    let time: String
    let quay: String
}

struct DeparturesView: View {
    let departures = [
        Departure(time: "07:40", quay: "Holm"),
        Departure(time: "08:15", quay: "Outer Skerry"),
    ]

    var body: some View {
        List(departures) { departure in
            HStack {
                Text(departure.time).font(.title)
                Text(departure.quay).font(.body)
            }
        }
    }
}
