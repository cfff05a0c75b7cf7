"""The computation core: equations, methods, findings and figures as data.

No web, no database, no files, no clock. Everything here is a pure function of readings and settings.
"""
