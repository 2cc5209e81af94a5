import mysql from "mysql2/promise"
import { readFileSync } from "node:fs"
const dir = process.argv[3] ?? ".data/demo"
const i = JSON.parse(readFileSync(dir + "/heron.json","utf8")); const port = +readFileSync(dir + "/db.port","utf8")
const c = await mysql.createConnection({host:"127.0.0.1",port,user:"heron",password:i.databasePassword,database:"heron"})
console.table((await c.query(process.argv[2]))[0]); await c.end()
