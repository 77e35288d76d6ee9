// swift-tools-version: 5.9
import PackageDescription

let package = Package(
    name: "QuaySigns",
    platforms: [.iOS(.v14), .macOS(.v11)],
    products: [
        .library(name: "QuaySigns", targets: ["QuaySigns"]),
    ],
    targets: [
        .target(
            name: "QuaySigns"
        ),
        .testTarget(
            name: "QuaySignsTests",
            dependencies: ["QuaySigns"]
        ),
    ]
)
