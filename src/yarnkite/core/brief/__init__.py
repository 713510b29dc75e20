"""Brief: the sentence that says what will be made, its warnings, and presets."""
