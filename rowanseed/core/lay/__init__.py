"""Laying pieces on cloth: spreads, placement rules, nesting, checking, yardage."""
