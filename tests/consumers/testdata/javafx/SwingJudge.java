package cargo;

import java.awt.Font;
import java.util.Map;
import javax.swing.JButton;
import javax.swing.JLabel;
import javax.swing.JTable;
import javax.swing.UIManager;

/** Prints what Swing makes of each role, and of the defaults. */
public class SwingJudge {
    public static void main(String[] args) throws Exception {
        try {
            for (SwingType role : SwingType.values()) {
                JLabel label = new JLabel("x");
                role.dress(label);
                say(role + " Label", label.getFont());
                say(role + " by name", new Font(label.getFont().getFontName(), Font.PLAIN, 14));
                System.out.println(role + " tracking " + label.getFont().getAttributes().get(java.awt.font.TextAttribute.TRACKING) + " colour " + label.getForeground());
            }
            SwingType.valueOf(args[0]).useAsDefault();
            say("default button", new JButton("x").getFont());
            say("default label", new JLabel("x").getFont());
            say("default table", new JTable().getFont());
            int left = 0;
            for (Map.Entry<Object, Object> e : UIManager.getLookAndFeelDefaults().entrySet()) {
                if (UIManager.get(e.getKey()) instanceof Font && !((Font) UIManager.get(e.getKey())).getFontName().equals(SwingType.valueOf(args[0]).font().getFontName())) {
                    left++;
                }
            }
            System.out.println("left " + left);
        } catch (IllegalStateException e) {
            System.out.println("failed: " + e.getMessage());
        }
        System.out.println(SwingType.report());
    }

    private static void say(String what, Font font) throws Exception {
        String name = font.getFontName().replace("\n", "~").replace("\t", "^");
        System.out.write((what + ": " + name + " at " + font.getSize2D() + "\n").getBytes("UTF-8"));
        System.out.flush();
    }
}
