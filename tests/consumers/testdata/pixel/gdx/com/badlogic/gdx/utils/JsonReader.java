package com.badlogic.gdx.utils;

import com.badlogic.gdx.files.FileHandle;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;

/** Reads the JSON of the test's sheets; as strict as it needs to be. */
public class JsonReader {
    private String text;
    private int at;

    public JsonValue parse(FileHandle file) {
        try {
            text = new String(Files.readAllBytes(file.file.toPath()), StandardCharsets.UTF_8);
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
        at = 0;
        return value();
    }

    private char peek() {
        while (Character.isWhitespace(text.charAt(at))) at++;
        return text.charAt(at);
    }

    private void expect(char c) {
        if (peek() != c) throw new IllegalStateException("expected " + c + " at " + at);
        at++;
    }

    private JsonValue value() {
        JsonValue v = new JsonValue();
        char c = peek();
        if (c == '{' || c == '[') {
            char end = c == '{' ? '}' : ']';
            at++;
            JsonValue last = null;
            while (peek() != end) {
                if (last != null) expect(',');
                String name = null;
                if (c == '{') {
                    name = string();
                    expect(':');
                }
                JsonValue next = value();
                next.name = name;
                if (last == null) v.child = next;
                else last.next = next;
                last = next;
            }
            at++;
        } else if (c == '"') {
            v.value = string();
        } else {
            int from = at;
            while ("+-.0123456789eE".indexOf(text.charAt(at)) >= 0) at++;
            v.value = text.substring(from, at);
        }
        return v;
    }

    private String string() {
        expect('"');
        StringBuilder b = new StringBuilder();
        for (; text.charAt(at) != '"'; at++) {
            char c = text.charAt(at);
            if (c == '\\') {
                c = text.charAt(++at);
                if (c == 'u') {
                    c = (char) Integer.parseInt(text.substring(at + 1, at + 5), 16);
                    at += 4;
                }
            }
            b.append(c);
        }
        at++;
        return b.toString();
    }
}
