package com.skerryferries.app

import android.app.Activity
import android.os.Bundle

class DeparturesActivity : Activity() {
    override fun onCreate(savedInstanceState: Bundle?) {
        super.onCreate(savedInstanceState)
        setContentView(R.layout.departures)
    }
}
