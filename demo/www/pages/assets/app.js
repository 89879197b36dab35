document.title = "Sailings";
