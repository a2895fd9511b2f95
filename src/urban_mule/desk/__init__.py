"""The Qt application: window, stages, fields, pictures. Widgets hold no physics."""
