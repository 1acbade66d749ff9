import type { Routes } from '@angular/router';
import { SheetPage } from './sheet/sheet-page';

export const routes: Routes = [
  // Home is part of what comes first: nobody waits for it twice.
  { path: '', pathMatch: 'full', title: 'Job sheet · Kettle Sheet', component: SheetPage },
  {
    path: 'requirements',
    title: 'Requirements · Kettle Sheet',
    loadComponent: () => import('./requirements/requirements-page').then((m) => m.RequirementsPage),
  },
  {
    path: 'channels',
    title: 'Channels · Kettle Sheet',
    loadComponent: () => import('./channels/channels-page').then((m) => m.ChannelsPage),
  },
  {
    path: 'became',
    title: 'What became of it · Kettle Sheet',
    loadComponent: () => import('./became/became-page').then((m) => m.BecamePage),
  },
  {
    path: 'blanks/:blankId',
    title: 'Own blank · Kettle Sheet',
    loadComponent: () => import('./own-blank/own-blank-page').then((m) => m.OwnBlankPage),
  },
  { path: 'designs/:designId', pathMatch: 'full', redirectTo: 'designs/:designId/artwork' },
  {
    path: 'designs/:designId/:station',
    loadComponent: () => import('./design-page/open-design').then((m) => m.OpenDesign),
  },
  { path: '**', redirectTo: '' },
];
