# Draws a line of text in every role, and in pygame's own font, and prints what came out:
# NAME WIDTH LINE INK COVERED, the ink in pixels. usage: judge.py GAME
import sys

sys.path.insert(0, sys.argv[1])
sys.dont_write_bytecode = True
import pygame

pygame.init()
screen = pygame.display.set_mode((640, 120))
words = "Read the lamps"


def ink():
    pixels = pygame.PixelArray(screen)
    n = sum(1 for x in range(640) for y in range(120) if pixels[x, y] != screen.map_rgb((16, 32, 48)))
    pixels.close()
    return n


screen.fill((16, 32, 48))
screen.blit(pygame.font.Font(None, 28).render(words, True, (255, 255, 255)), (20, 40))
print("own", pygame.font.Font(None, 28).size(words)[0], 0, ink())
try:
    import app_type

    for name, role in app_type.ROLES.items():
        screen.fill((16, 32, 48))
        covered = role.draw(screen, words, (20, 40))
        print(name, role.width(words), role.line(), ink(), tuple(covered), role.font() is role.font(), role.font(2).get_height() > role.font().get_height())
        role.render("Two\nlines", colour=(1, 2, 3), scale=0.5)
    print(app_type.report())
except RuntimeError as error:
    print(app_type.report() if "app_type" in globals() else "")
    print("failed:", type(error).__name__, error)
