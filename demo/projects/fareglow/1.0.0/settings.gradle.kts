rootProject.name = "fareglow"
