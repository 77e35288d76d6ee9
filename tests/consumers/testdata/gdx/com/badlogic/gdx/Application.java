package com.badlogic.gdx;

public interface Application {
    enum ApplicationType { Android, Desktop, HeadlessDesktop, Applet, WebGL, iOS }

    ApplicationType getType();
}
