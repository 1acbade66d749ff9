// The core promises to run in a browser as it does in Node: its own specs, here.
import '../../core/dist/units/units.spec.js';
import '../../core/dist/requirement/requirement.spec.js';
import '../../core/dist/document/design.spec.js';
import '../../core/dist/drawing/shape.spec.js';
import '../../core/dist/text/lettering.spec.js';
import '../../core/dist/colour/colour.spec.js';
import '../../core/dist/raster/raster.spec.js';
import '../../core/dist/checks/checks.spec.js';
import '../../core/dist/mockup/mockup.spec.js';
import '../../core/dist/raster/flat-field.spec.js';
import '../../core/dist/raster/screen.spec.js';
import '../../core/dist/layers/keyline.spec.js';
