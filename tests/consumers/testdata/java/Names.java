import java.awt.Font;
import java.io.File;

/** Prints what the JDK calls each font: family, full name, PostScript name. */
public class Names {
    public static void main(String[] args) throws Exception {
        for (String file : args) {
            Font f = Font.createFont(Font.TRUETYPE_FONT, new File(file));
            System.out.println(f.getFamily() + "|" + f.getName() + "|" + f.getPSName());
        }
    }
}
