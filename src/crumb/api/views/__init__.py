"""From what services return to what goes over the wire, a module for each subject."""
