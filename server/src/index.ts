export { createApp } from './app.js';
export { openHouse, type House } from './house.js';
export { startMariaDb } from './launch/mariadb.js';
export { startServer, type RunningServer } from './launch/server.js';
export { Database } from './database/database.js';
export { encodePrintFile } from './render/print-file.js';
export { drawLayers } from './render/draw-layers.js';
export { drawScene } from './render/picture.js';
export { readyBlank } from './render/blank-pack.js';
