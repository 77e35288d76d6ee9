g.clear();
g.setFont("6x8", 2);
g.drawString("Next ferry 07:40", 10, 40);
