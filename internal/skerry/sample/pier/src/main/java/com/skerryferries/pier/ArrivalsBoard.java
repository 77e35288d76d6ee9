package com.skerryferries.pier;

import javafx.application.Application;
import javafx.scene.Scene;
import javafx.scene.control.Label;
import javafx.scene.layout.VBox;
import javafx.stage.Stage;

/** The arrivals on the wall of the harbour office. */
public class ArrivalsBoard extends Application {
    @Override
    public void start(Stage stage) {
        Label next = new Label("07:40 Holm");
        next.setId("next");
        VBox rows = new VBox(8, next, new Label("08:15 Stora Skerry"));
        rows.getStyleClass().add("rows");

        Scene scene = new Scene(rows, 640, 360);
        scene.getStylesheets().add(ArrivalsBoard.class.getResource("/board.css").toExternalForm());
        stage.setTitle("Arrivals");
        stage.setScene(scene);
        stage.show();
    }

    public static void main(String[] args) {
        launch(args);
    }
}
