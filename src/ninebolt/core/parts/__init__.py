"""What a part is: the numbers on its label and sheet, each with origin and tolerance."""
