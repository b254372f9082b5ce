"""What is wrong: rules, their judgement, reports and their forms."""
