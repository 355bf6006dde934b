"""Families of equal forms: each file has one public function (expression, facts) -> candidates."""
