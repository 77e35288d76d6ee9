package com.skerryferries.pier;

import java.util.Locale;
import javafx.application.Application;
import javafx.application.Platform;
import javafx.embed.swing.SwingFXUtils;
import javafx.scene.Scene;
import javafx.scene.control.Button;
import javafx.scene.control.Label;
import javafx.scene.layout.VBox;
import javafx.scene.text.Font;
import javafx.scene.text.Text;
import javafx.stage.Stage;

/** Prints what JavaFX makes of each role: the font that it resolves, on three kinds of nodes. */
public class Judge extends Application {
    @Override
    public void start(Stage stage) throws Exception {
        try {
            VBox rows = new VBox(12);
            rows.setStyle("-fx-padding: 24px; -fx-background-color: white;");
            Scene scene = new Scene(rows, 760, 420);
            AppType.dress(scene);
            scene.getStylesheets().add(Judge.class.getResource("/board.css").toExternalForm());
            AppType[] roles = AppType.values();
            Label[] labels = new Label[roles.length];
            Text[] texts = new Text[roles.length];
            Button[] buttons = new Button[roles.length];
            for (int i = 0; i < roles.length; i++) {
                AppType role = roles[i];
                Label label = new Label("07:40 Holm, Stora Skerry");
                Text text = new Text("07:40 Holm, Stora Skerry");
                Button button = new Button("Button");
                role.dress(label);
                roles[0].dress(text); // a second role takes the place of the first
                role.dress(text);
                button.getStyleClass().add(role.styleClass());
                rows.getChildren().addAll(label, text);
                if (!getParameters().getNamed().containsKey("picture")) {
                    rows.getChildren().add(button);
                }
                labels[i] = label;
                texts[i] = text;
                buttons[i] = button;
            }
            rows.applyCss();
            rows.layout(); // once: there can be hundreds of roles
            for (int i = 0; i < roles.length; i++) {
                AppType role = roles[i];
                Label label = labels[i];
                Text text = texts[i];
                Button button = buttons[i];
                say(role, "Label", label.getFont());
                say(role, "Text", text.getFont());
                say(role, "Button", button.getParent() == null ? label.getFont() : button.getFont());
                say(role, "own", role.font());
                System.out.printf(Locale.ROOT, "%s spacing %.2f fill %s %s stroke %s %s %.1f%n", role, label.getLineSpacing(), label.getTextFill(), text.getFill(), text.getStroke(), text.getStrokeType(), text.getStrokeWidth());
            }
            stage.setScene(scene);
            stage.show();
            if (getParameters().getNamed().containsKey("picture")) {
                javax.imageio.ImageIO.write(SwingFXUtils.fromFXImage(scene.snapshot(null), null), "png", new java.io.File(getParameters().getNamed().get("picture")));
            }
        } catch (Exception e) {
            System.out.println("failed: " + e.getMessage());
        }
        System.out.println(AppType.report());
        Platform.exit();
    }

    private static void say(AppType role, String node, Font font) throws Exception {
        String name = font.getName().replace("\n", "~").replace("\t", "^");
        System.out.write((role + " " + node + " " + name + " at " + font.getSize() + "\n").getBytes("UTF-8"));
        System.out.flush();
    }

    public static void main(String[] args) {
        launch(args);
    }
}
