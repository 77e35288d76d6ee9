package com.skerryferries.timetable

import androidx.compose.foundation.text.BasicText
import androidx.compose.runtime.Composable

/** Today's boats, on phones and on the screen at the ticket office. */
@Composable
fun App() {
    BasicText("07:40 Holm")
}
