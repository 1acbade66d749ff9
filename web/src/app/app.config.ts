import { provideHttpClient, withFetch } from '@angular/common/http';
import { inject, provideAppInitializer, provideZonelessChangeDetection, type ApplicationConfig } from '@angular/core';
import { provideRouter, withComponentInputBinding } from '@angular/router';
import { routes } from './app.routes';
import { registerIcons } from './icons/icons';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';

export const appConfig: ApplicationConfig = {
  providers: [
    provideZonelessChangeDetection(),
    provideHttpClient(withFetch()),
    provideRouter(routes, withComponentInputBinding()),
    provideAppInitializer(() => registerIcons(inject(MatIconRegistry), inject(DomSanitizer))),
  ],
};
