import { emptyDatabase, until } from '../../testing/test-house.js';
import { Database } from './database.js';

describe('a statement', () => {
  it('that the server undid because another one blocked it is done after that one', async () => {
    const database = new Database(await emptyDatabase());
    try {
      await database.change('CREATE TABLE n (id INT PRIMARY KEY, n INT NOT NULL)');
      await database.change('INSERT INTO n VALUES (1, 0), (2, 0)');
      const free = () => database.rows('SELECT id FROM n WHERE id = 1 FOR UPDATE SKIP LOCKED');
      let late: Promise<number> | undefined;
      await database.transaction(async (within) => {
        // The longer one of two that block each other is the one that stays.
        await within.change('INSERT INTO n SELECT seq, 1 FROM seq_3_to_100');
        await within.change('UPDATE n SET n = n + 1 WHERE id = 2');
        late = database.change('UPDATE n SET n = n + 10 WHERE id IN (1, 2) ORDER BY id');
        await until(free, (rows) => !rows.length);
        await within.change('UPDATE n SET n = n + 1 WHERE id = 1');
      });
      expect(await late).toBe(2);
      expect(
        (await database.rows<{ n: number }>('SELECT n FROM n WHERE id < 3 ORDER BY id')).map((one) => one.n),
      ).toEqual([11, 11]);
    } finally {
      await database.close();
    }
  });
});
