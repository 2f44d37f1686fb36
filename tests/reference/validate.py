"""Files against a schema, by an independent validator (python3-jsonschema, JSON Schema 2020-12)."""
import json
import sys

import jsonschema

with open(sys.argv[1], encoding="utf-8") as file:
    schema = json.load(file)
jsonschema.Draft202012Validator.check_schema(schema)
failed = 0
for name in sys.argv[2:]:
    with open(name, encoding="utf-8") as file:
        for error in jsonschema.Draft202012Validator(schema).iter_errors(json.load(file)):
            print(name, error.json_path, error.message[:200])
            failed = 1
sys.exit(failed)
