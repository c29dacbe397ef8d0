"""The pair: picture and take side by side, as one large blink, or under a curtain."""
