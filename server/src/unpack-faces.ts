import { unpackFaces } from './render/text/faces.js';

// Part of the build.
await unpackFaces();
