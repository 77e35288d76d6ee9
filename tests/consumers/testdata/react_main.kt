fun main() {
    com.skerryferries.fleet.MainApplication().onCreate()
}
