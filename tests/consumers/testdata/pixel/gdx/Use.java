import com.badlogic.gdx.files.FileHandle;
import com.badlogic.gdx.graphics.g2d.BitmapFont;
import java.io.File;

/** Draws text as the library does: down from the top of capitals, glyphs by their lower left corner. */
public class Use {
    public static void main(String[] args) {
        BitmapFont font = skerry.type.PixelFontLoader.load(new FileHandle(new File(args[0])));
        System.out.println("line " + font.data.lineHeight + " capitals " + font.data.capHeight + " owns " + font.owns + " space " + font.data.spaceXadvance);
        int width = Integer.parseInt(args[2]), height = Integer.parseInt(args[3]), top = Integer.parseInt(args[4]);
        int[][] ink = new int[height][width];
        int x = 0;
        BitmapFont.Glyph last = null;
        for (char c : args[1].toCharArray()) {
            BitmapFont.Glyph g = font.data.getGlyph(c);
            if (last != null && last.kerning.containsKey((int) c)) x += last.kerning.get((int) c);
            // y grows upwards; the pen of the first line is at the top of capitals plus ascent
            int bottom = (int) font.data.ascent + g.yoffset;
            for (int row = 0; row < g.height; row++) {
                for (int column = 0; column < g.width; column++) {
                    int a = font.region.texture.image.getRGB(g.srcX + column, g.srcY + row) >>> 24;
                    int down = top - (bottom + g.height - row);
                    if (a != 0) ink[down][x + g.xoffset + column] = Math.max(a, ink[down][x + g.xoffset + column]);
                }
            }
            x += g.xadvance;
            last = g;
        }
        for (int[] row : ink) {
            StringBuilder b = new StringBuilder();
            for (int v : row) b.append(String.format("%02x", v));
            System.out.println(b);
        }
    }
}
