"""Classification as walks through decision trees: unified, highway, and the texture triangle."""
