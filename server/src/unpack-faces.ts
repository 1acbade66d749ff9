import { unpackFaces } from './render/faces.js';

// Part of the build.
await unpackFaces();
