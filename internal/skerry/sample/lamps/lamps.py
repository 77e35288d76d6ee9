"""Read the lamps: which light belongs to which island?"""

import pygame

ISLANDS = ["Outer Skerry", "Gannet Rock", "Long Holm"]


def main():
    pygame.init()
    screen = pygame.display.set_mode((640, 360))
    clock = pygame.time.Clock()
    running = True
    while running:
        for event in pygame.event.get():
            running = running and event.type != pygame.QUIT
        screen.fill((16, 32, 48))
        for n, island in enumerate(ISLANDS):
            pygame.draw.circle(screen, (255, 224, 128), (60, 80 + n * 90), 16)
            words = pygame.font.SysFont(None, 28).render(island, True, (255, 255, 255))
            screen.blit(words, (100, 66 + n * 90))
        pygame.display.flip()
        clock.tick(30)
    pygame.quit()


if __name__ == "__main__":
    main()
