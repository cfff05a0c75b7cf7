"""One package per test method: equations, readings, reduction, figure, and the method that ties them together."""
