/* Draws text on an 8-bit board and writes WIDTH INK CHECKSUM to its serial port. */
#include <avr/io.h>
#include <avr/interrupt.h>
#include <avr/sleep.h>
#include "judge.h"
#include "board.h"

static void put(char c)
{
    while (!(UCSR0A & (1 << UDRE0)))
    {
    }
    UDR0 = (uint8_t) c;
}

static void number(uint32_t v)
{
    char digits[10];
    uint8_t n = 0;
    do
    {
        digits[n++] = (char) ('0' + v % 10);
        v /= 10;
    } while (v != 0);
    while (n > 0)
    {
        put(digits[--n]);
    }
    put(' ');
}

int main(void)
{
    tally t = { 0, 0 };
    UCSR0B = 1 << TXEN0;
    number((uint32_t) pixel_text(board, "07:40 \xc2\xb0", 3, 40, tally_put, &t));
    number((uint32_t) t.count);
    number(t.sum);
    put('\n');
    cli();
    sleep_enable();
    sleep_cpu();
    return 0;
}
