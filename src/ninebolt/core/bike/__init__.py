"""What a bike is: each derived fact once, with the leaves that it was made of."""
