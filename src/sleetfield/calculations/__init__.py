"""What a `System` does with the engine: from its own components and results to arrays, and back."""
