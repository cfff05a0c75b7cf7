"""What the strength tests share: classes of strength and sensitivity, the specimen and its dimensions."""
