#!/usr/bin/env python3
"""The tide gauge, on the desk of the harbour master."""
import sys

import gi

gi.require_version("Gtk", "4.0")
from gi.repository import Gtk


class Tide(Gtk.Application):
    def do_activate(self):
        window = Gtk.ApplicationWindow(application=self, title="Tide")
        window.set_child(Gtk.Label(label="High water at 11:52"))
        window.present()


if __name__ == "__main__":
    sys.exit(Tide(application_id="org.skerry.Tide").run(sys.argv))
