import { Component } from '@angular/core';
@Component({ selector: 'ks-requirements-page', template: '' })
export class RequirementsPage {}
