"""The physics of bow, hair and string: one flat module for each subject, SI units throughout."""
