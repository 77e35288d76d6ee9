package org.jetbrains.compose.resources

import androidx.compose.runtime.Composable
import androidx.compose.ui.text.font.FontStyle
import androidx.compose.ui.text.font.FontWeight
import timetable.composeapp.generated.resources.FontResource

@Composable
fun Font(resource: FontResource, weight: FontWeight = FontWeight.W400, style: FontStyle = FontStyle.Normal): androidx.compose.ui.text.font.Font =
    androidx.compose.ui.text.font.Font(resource.name.hashCode(), weight, style)
