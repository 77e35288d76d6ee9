package com.facebook.react.common.assets

import android.content.Context

class ReactFontManager {
    fun addCustomFont(context: Context, fontFamily: String, fontId: Int) {
        println(fontFamily + " from " + fontId)
    }

    companion object {
        private val one = ReactFontManager()

        @JvmStatic
        fun getInstance(): ReactFontManager = one
    }
}
