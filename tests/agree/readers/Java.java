import java.awt.Font;
import java.io.*;
import java.nio.charset.StandardCharsets;
import java.util.Locale;

/** Reads paths on stdin and prints what the JDK calls each font: family, name, PostScript name. */
public class Java {
    public static void main(String[] args) throws Exception {
        Locale.setDefault(Locale.US);
        PrintStream out = new PrintStream(new FileOutputStream(FileDescriptor.out), true, "UTF-8");
        BufferedReader in = new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8));
        for (String file; (file = in.readLine()) != null;) {
            try {
                Font[] fonts = Font.createFonts(new File(file));
                for (int i = 0; i < fonts.length; i++) {
                    out.println(file + "\t" + i + "\t" + fonts[i].getFamily(Locale.US) + "\t" + fonts[i].getFontName(Locale.US) + "\t" + fonts[i].getPSName());
                }
            } catch (Exception | Error e) {
                out.println(file + "\t0\t!");
            }
        }
    }
}
