import { provideHttpClient, withFetch, withInterceptors } from '@angular/common/http';
import {
  DOCUMENT,
  inject,
  provideAppInitializer,
  provideZonelessChangeDetection,
  type ApplicationConfig,
} from '@angular/core';
import { provideRouter, withComponentInputBinding } from '@angular/router';
import { routes } from './app.routes';
import { askForPicturesAgain } from './data/pictures-again';
import { single } from './data/single';
import { patient } from './data/waits';
import { registerIcons } from './icons/icons';
import { MatIconRegistry } from '@angular/material/icon';
import { DomSanitizer } from '@angular/platform-browser';

export const appConfig: ApplicationConfig = {
  providers: [
    provideZonelessChangeDetection(),
    provideHttpClient(withFetch(), withInterceptors([patient, single])),
    provideRouter(routes, withComponentInputBinding()),
    provideAppInitializer(() => {
      registerIcons(inject(MatIconRegistry), inject(DomSanitizer));
      askForPicturesAgain(inject(DOCUMENT));
    }),
  ],
};
