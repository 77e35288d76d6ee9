package com.badlogic.gdx.utils;

public class JsonValue {
    public JsonValue child, next;
    String name;
    Object value;

    public JsonValue get(String key) {
        for (JsonValue v = child; v != null; v = v.next) {
            if (key.equals(v.name)) return v;
        }
        return null;
    }

    public String getString(String key) { return (String) get(key).value; }

    public String getString(String key, String other) { return get(key) == null ? other : getString(key); }

    public float getFloat(String key) { return Float.parseFloat(get(key).value.toString()); }

    public int getInt(String key) { return Integer.parseInt(get(key).value.toString()); }

    public int getInt(String key, int other) { return get(key) == null ? other : getInt(key); }
}
