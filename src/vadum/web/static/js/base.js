// What every page begins with.
import "./shell.js";
import "./rooms.js";
import "./scan.js";
