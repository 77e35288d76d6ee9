import XCTest
@testable import QuaySigns

final class QuaySignTests: XCTestCase {
    func testQuay() {
        _ = QuaySign(number: 3)
    }
}
