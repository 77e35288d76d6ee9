// Stand-ins for the parts of React Native that an app's start uses.
package com.facebook.react

import android.app.Application

class PackageList(app: Application) {
    val packages: List<Any> = listOf(app)
}

interface ReactHost

interface ReactApplication {
    val reactHost: ReactHost
}

object ReactNativeApplicationEntryPoint {
    fun loadReactNative(app: Application) {
        println("loaded " + (app is ReactApplication))
    }
}
