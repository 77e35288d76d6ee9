/* What is below the ferry: a sweep with the depths beside it. */
#include <SDL.h>
#include <SDL_ttf.h>

int main(int argc, char **argv)
{
    SDL_Window *window;
    SDL_Event event;
    int running = 1;

    (void) argc;
    (void) argv;
    if (SDL_Init(SDL_INIT_VIDEO) != 0 || TTF_Init() != 0)
    {
        SDL_Log("%s", SDL_GetError());
        return 1;
    }
    window = SDL_CreateWindow("Sonar", SDL_WINDOWPOS_CENTERED, SDL_WINDOWPOS_CENTERED, 640, 360, 0);
    while (running && SDL_WaitEvent(&event))
    {
        running = event.type != SDL_QUIT;
    }
    SDL_DestroyWindow(window);
    TTF_Quit();
    SDL_Quit();
    return 0;
}
