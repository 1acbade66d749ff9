import { Architect } from '@angular-devkit/architect';
import { WorkspaceNodeModulesArchitectHost } from '@angular-devkit/architect/node/index.js';
import { schema, workspaces } from '@angular-devkit/core';
import { createConsoleLogger, NodeJsSyncHost } from '@angular-devkit/core/node/index.js';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

const WEB = fileURLToPath(new URL('.', import.meta.url));

/**
 * Runs a target of angular.json by Angular's own builders, without its command line.
 * @returns whether it succeeded; what was found stands on the terminal
 */
export async function runTarget(target, options = {}) {
  process.chdir(WEB);
  // Its own count leaves one core to itself, which waits most of the time.
  process.env.NG_BUILD_MAX_WORKERS ??= '2';
  // Types are checked by `npm run types`, for specifications and page at once.
  process.env.NG_BUILD_TYPE_CHECK ??= '0';
  const registry = new schema.CoreSchemaRegistry();
  registry.addPostTransform(schema.transforms.addUndefinedDefaults);
  const { workspace } = await workspaces.readWorkspace(
    join(WEB, 'angular.json'),
    workspaces.createWorkspaceHost(new NodeJsSyncHost()),
  );
  const host = new WorkspaceNodeModulesArchitectHost(workspace, WEB);
  const run = await new Architect(host, registry).scheduleTarget({ project: 'web', target }, options, {
    logger: createConsoleLogger(false, process.stdout, process.stderr),
  });
  const { success, error } = await run.result;
  await run.stop();
  if (error) console.error(error);
  return success;
}

// node web/angular.mjs build|test [include=GLOB …]
if (process.argv[1] === fileURLToPath(import.meta.url)) {
  const [target, ...given] = process.argv.slice(2);
  const include = given.map((one) => one.replace(/^include=/, ''));
  process.exit((await runTarget(target, include.length ? { include } : {})) ? 0 : 1);
}
