import { handleOf, shapeDescription, valueAtHandle } from './shape.js';

describe('handles of shapes', () => {
  it('stand where their number is, and give it back', () => {
    for (const kind of ['star', 'ring', 'arrow', 'banner', 'sunburst', 'speech', 'badge'] as const) {
      for (const parameter of shapeDescription(kind).parameters) {
        for (const value of [parameter.least, parameter.start, parameter.most]) {
          expect(valueAtHandle(parameter, handleOf({ shape: kind, parameters: { [parameter.key]: value } }, parameter)))
            .withContext(`${kind} ${parameter.key}`)
            .toBe(value);
        }
      }
    }
  });
});
