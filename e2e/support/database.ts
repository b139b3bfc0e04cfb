import pg from 'pg';

/** Where tests find PostgreSQL; `npm test` and `npm run bench` start one and say where. */
const ADMIN = process.env.UMBEK_TEST_DATABASE ?? 'postgresql://umbek@127.0.0.1:4499/postgres';

let count = 0;

/** A database of its own for one test file. */
export async function freshDatabase(): Promise<string> {
  const name = `umbek_test_${process.pid}_${Date.now()}_${(count += 1)}`;
  const client = new pg.Client({ connectionString: ADMIN });
  await client.connect();
  await client.query(`create database ${name}`);
  await client.end();
  const url = new URL(ADMIN);
  url.pathname = `/${name}`;
  return url.toString();
}
