"""Pack: which cells, how many, in what order, and will they go in?"""
