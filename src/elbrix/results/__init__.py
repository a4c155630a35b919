"""What a calculation gives back: figures with their derivation, checks with their verdict."""
