package com.skerryferries.fleet

import com.facebook.react.ReactActivity

class MainActivity : ReactActivity() {
  override fun getMainComponentName(): String = "Fleet"
}
