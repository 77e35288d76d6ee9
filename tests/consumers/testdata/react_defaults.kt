package com.facebook.react.defaults

import android.content.Context
import com.facebook.react.ReactHost

object DefaultReactHost {
    fun getDefaultReactHost(context: Context, packageList: List<Any>): ReactHost = object : ReactHost {}
}
