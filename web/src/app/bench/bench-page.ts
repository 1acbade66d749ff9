import { Component } from '@angular/core';
@Component({ selector: 'ks-bench-page', template: '' })
export class BenchPage {}
