"""The command line: the same core, no Qt unless the window, a picture or a PDF is asked for."""
