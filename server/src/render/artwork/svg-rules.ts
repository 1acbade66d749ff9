/** Elements of SVG 2 and 1.1 that draw or define something. All others are left out. */
export const ELEMENTS: ReadonlySet<string> = new Set([
  'svg', 'g', 'defs', 'symbol', 'use', 'switch', 'a', 'path', 'rect', 'circle', 'ellipse', 'line', 'polyline', 'polygon', 'text', 'tspan', 'textPath', 'image', 'style', 'linearGradient', 'radialGradient', 'stop', 'pattern',
  'clipPath', 'mask', 'marker', 'filter', 'feBlend', 'feColorMatrix', 'feComponentTransfer', 'feComposite', 'feConvolveMatrix', 'feDiffuseLighting', 'feDisplacementMap', 'feDistantLight', 'feDropShadow', 'feFlood',
  'feFuncA', 'feFuncB', 'feFuncG', 'feFuncR', 'feGaussianBlur', 'feImage', 'feMerge', 'feMergeNode', 'feMorphology', 'feOffset', 'fePointLight', 'feSpecularLighting', 'feSpotLight', 'feTile', 'feTurbulence',
]);

/** Attributes that say where and how something is drawn. All others, and everything of other programs, are left out. */
export const ATTRIBUTES: ReadonlySet<string> = new Set([
  'id', 'class', 'style', 'transform', 'viewBox', 'preserveAspectRatio', 'x', 'y', 'width', 'height', 'cx', 'cy', 'r', 'rx', 'ry', 'x1', 'y1', 'x2', 'y2', 'fx', 'fy', 'fr', 'd', 'points', 'pathLength', 'dx', 'dy', 'rotate', 'textLength',
  'lengthAdjust', 'startOffset', 'method', 'spacing', 'side', 'offset', 'gradientUnits', 'gradientTransform', 'spreadMethod', 'patternUnits', 'patternContentUnits', 'patternTransform', 'clipPathUnits', 'maskUnits', 'maskContentUnits',
  'markerUnits', 'markerWidth', 'markerHeight', 'refX', 'refY', 'orient', 'filterUnits', 'primitiveUnits', 'in', 'in2', 'result', 'type', 'values', 'tableValues', 'slope', 'intercept', 'amplitude', 'exponent', 'mode', 'operator', 'k1', 'k2',
  'k3', 'k4', 'stdDeviation', 'edgeMode', 'order', 'kernelMatrix', 'divisor', 'bias', 'targetX', 'targetY', 'kernelUnitLength', 'preserveAlpha', 'surfaceScale', 'diffuseConstant', 'specularConstant', 'specularExponent', 'limitingConeAngle',
  'azimuth', 'elevation', 'pointsAtX', 'pointsAtY', 'pointsAtZ', 'z', 'scale', 'xChannelSelector', 'yChannelSelector', 'radius', 'baseFrequency', 'numOctaves', 'seed', 'stitchTiles', 'systemLanguage',
  // Presentation attributes (SVG 2, 6.6).
  'alignment-baseline', 'baseline-shift', 'clip', 'clip-path', 'clip-rule', 'color', 'color-interpolation', 'color-interpolation-filters', 'direction', 'display', 'dominant-baseline', 'enable-background', 'fill', 'fill-opacity', 'fill-rule',
  'filter', 'flood-color', 'flood-opacity', 'font', 'font-family', 'font-size', 'font-size-adjust', 'font-stretch', 'font-style', 'font-variant', 'font-weight', 'glyph-orientation-horizontal', 'glyph-orientation-vertical', 'image-rendering',
  'isolation', 'kerning', 'letter-spacing', 'lighting-color', 'marker', 'marker-end', 'marker-mid', 'marker-start', 'mask', 'mask-type', 'mix-blend-mode', 'opacity', 'overflow', 'paint-order', 'shape-rendering', 'stop-color', 'stop-opacity',
  'stroke', 'stroke-dasharray', 'stroke-dashoffset', 'stroke-linecap', 'stroke-linejoin', 'stroke-miterlimit', 'stroke-opacity', 'stroke-width', 'text-anchor', 'text-decoration', 'text-rendering', 'transform-origin', 'unicode-bidi',
  'vector-effect', 'visibility', 'white-space', 'word-spacing', 'writing-mode',
]);

/** Elements that run something. What is left out of them is said. */
export const RUNNING: ReadonlySet<string> = new Set(['script', 'handler', 'listener']);
export const MOVING: ReadonlySet<string> = new Set(['set', 'animate', 'animatetransform', 'animatemotion', 'animatecolor', 'discard']);
/** Elements that hold something from elsewhere. */
export const FOREIGN: ReadonlySet<string> = new Set(['foreignobject', 'iframe', 'object', 'embed', 'audio', 'video', 'include', 'html', 'body']);
