"""Routes that answer scripts: reducing, preparing, results, history, attachments."""
