"""Which groups each method fills, a module per method. Definitions of headings: AGS4 edition 4.1.1, group by group.

A module has ``fill(test)``, or says in ``LEFT_OUT`` why its method does not go out.
"""
