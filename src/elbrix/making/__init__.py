"""From work to be done to moves with dial numbers: stock, setups, passes, speeds, kit. Knows no family."""
