"""The sewing library as data that a sewist could read and correct."""
