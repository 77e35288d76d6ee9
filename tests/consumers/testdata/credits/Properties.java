import java.io.FileInputStream;
import java.nio.charset.StandardCharsets;

/** Prints a property as Java reads it. usage: Properties.java FILE KEY */
class Properties {
    public static void main(String[] args) throws Exception {
        var p = new java.util.Properties();
        try (var in = new FileInputStream(args[0])) {
            p.load(in);
        }
        System.out.write((p.getProperty(args[1]) + "\n").getBytes(StandardCharsets.UTF_8));
        System.out.flush();
    }
}
