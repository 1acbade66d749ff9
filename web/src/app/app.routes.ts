import type { Routes } from '@angular/router';

export const routes: Routes = [
  { path: '', pathMatch: 'full', title: 'Job sheet · Kettle Sheet', loadComponent: () => import('./sheet/sheet-page').then((m) => m.SheetPage) },
  { path: 'requirements', title: 'Requirements · Kettle Sheet', loadComponent: () => import('./requirements/requirements-page').then((m) => m.RequirementsPage) },
  { path: 'designs/:designId', pathMatch: 'full', redirectTo: 'designs/:designId/artwork' },
  { path: 'designs/:designId/:station', loadComponent: () => import('./bench/open-bench').then((m) => m.OpenBench) },
  { path: '**', redirectTo: '' },
];
