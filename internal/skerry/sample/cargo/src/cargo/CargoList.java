package cargo;

import javax.swing.JFrame;
import javax.swing.JLabel;
import javax.swing.SwingUtilities;

/** What the boats carry besides people. */
public class CargoList extends JFrame {
    private static final long serialVersionUID = 1L;

    public CargoList() {
        super("Cargo");
        add(new JLabel("12 crates for Holm"));
        pack();
    }

    public static void main(String[] args) {
        SwingUtilities.invokeLater(() -> new CargoList().setVisible(true));
    }
}
