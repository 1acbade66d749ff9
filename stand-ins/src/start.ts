import { createLarkpost } from './larkpost.js';

// The simulated marketplace on its own: npm start -w @kettle/stand-ins

const port = Number(process.env['LARKPOST_PORT'] ?? 4320);
createLarkpost().listen(port, '127.0.0.1', () =>
  console.log(`Larkpost Market (simulated) is at http://localhost:${port}`),
);
