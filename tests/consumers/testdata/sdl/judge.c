/* Draws a line of text in every role, and prints what came out: NUMBER WIDTH LINE HEIGHT INK,
 * the ink in pixels; the names and colours are the roles' own. Runs in the place of a game. */
#include <stdio.h>
#include "apptype/apptype.h"

static int ink(SDL_Surface *drawn)
{
    int n = 0, x, y;
    SDL_Surface *plain = SDL_ConvertSurfaceFormat(drawn, SDL_PIXELFORMAT_ARGB8888, 0);
    for (y = 0; y < plain->h; y++)
        for (x = 0; x < plain->w; x++)
            n += (((Uint32 *) ((Uint8 *) plain->pixels + y * plain->pitch))[x] >> 24) > 127;
    SDL_FreeSurface(plain);
    return n;
}

int main(int argc, char **argv)
{
    int role;
    if (SDL_Init(0) != 0 || TTF_Init() != 0)
        return 1;
    if (app_type_font((AppTypeRole) 0) == NULL)
        printf("early %s\n", SDL_GetError());
    if (app_type_load(argc > 1 ? argv[1] : NULL, 2) != 0 || app_type_load(argc > 1 ? argv[1] : NULL, 1) != 0)
    {
        printf("failed: %s\n", SDL_GetError());
        printf("missing %d\n", app_type_report(argc > 1 ? argv[1] : NULL));
        return 0;
    }
    for (role = 0; role < APP_TYPE_ROLES; role++)
    {
        int width, height;
        SDL_Surface *drawn = app_type_render((AppTypeRole) role, "Below the ferry");
        if (drawn == NULL || TTF_SizeUTF8(app_type_font((AppTypeRole) role), "Below the ferry", &width, &height) != 0)
        {
            printf("failed: role %d: %s\n", role, SDL_GetError());
            return 1;
        }
        printf("role %d %s %s %d %d %dx%d %d\n", role, TTF_FontFaceFamilyName(app_type_font((AppTypeRole) role)), TTF_FontFaceStyleName(app_type_font((AppTypeRole) role)), width,
               app_type_line((AppTypeRole) role), drawn->w, drawn->h, ink(drawn));
        SDL_FreeSurface(drawn);
    }
    printf("missing %d\n", app_type_report(argc > 1 ? argv[1] : NULL));
    app_type_free();
    TTF_Quit();
    return 0;
}
