#include <Arduino.h>
#include <U8g2lib.h>

U8G2_SSD1306_128X64_NONAME_F_HW_I2C board(U8G2_R0);

static void departure(const char *time, const char *quay)
{
    board.clearBuffer();
    board.setFont(u8g2_font_10x20_tf);
    board.drawStr(4, 28, time);
    board.drawUTF8(4, 58, quay);
    board.sendBuffer();
}

void setup()
{
    board.begin();
    departure("07:40", "Quay 2, Öland");
}

void loop()
{
}
