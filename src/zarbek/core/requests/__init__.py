"""An HTTP operation as a request, as a command, and as client code."""
