module com.skerryferries.pier {
    requires javafx.controls;

    exports com.skerryferries.pier;
}
