import UIKit

/// The line on the ticket that the deck hand reads.
final class TicketLabel: UILabel {
    override func awakeFromNib() {
        super.awakeFromNib()
        font = UIFont.boldSystemFont(ofSize: 28)
    }
}
