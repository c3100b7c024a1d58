"""Commands for developers: environment, vendoring, pictures, and the demo kept between runs."""
