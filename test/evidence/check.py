#!/usr/bin/env python3
"""Checks an evidence bundle by its description in docs/formats.md alone.

It knows nothing of the program: RFC 9162 proofs, C2SP signed notes and Ed25519 (RFC 8032)
are written here once more, with Python's standard library.
"""
import base64, hashlib, json, sys, zipfile

P, L = 2**255 - 19, 2**252 + 27742317777372353535851937790883648493
D = -121665 * pow(121666, P - 2, P) % P
ROOT = pow(2, (P - 1) // 4, P)


def point(y, sign):
    x2 = (y * y - 1) * pow(D * y * y + 1, P - 2, P) % P
    x = pow(x2, (P + 3) // 8, P)
    if (x * x - x2) % P:
        x = x * ROOT % P
    if (x * x - x2) % P or y >= P or (x == 0 and sign):
        raise ValueError("not a point")
    return (x if x & 1 == sign else P - x, y, 1)


def add(a, b):
    (x1, y1, z1), (x2, y2, z2) = a, b
    z, e, f = z1 * z2 % P, x1 * x2 % P, y1 * y2 % P
    t = D * e * f % P
    return (z * (z * z - t) * ((x1 + y1) * (x2 + y2) - e - f) % P, z * (z * z + t) * (f + e) % P, (z * z - t) * (z * z + t) % P)


def times(n, p):
    q = (0, 1, 1)
    while n:
        if n & 1:
            q = add(q, p)
        p, n = add(p, p), n >> 1
    return q


def same(a, b):
    return (a[0] * b[2] - b[0] * a[2]) % P == 0 and (a[1] * b[2] - b[1] * a[2]) % P == 0


def decode(raw):
    n = int.from_bytes(raw, "little")
    return point(n & (2**255 - 1), n >> 255)


BASE = point(4 * pow(5, P - 2, P) % P, 0)


def signed_by(key, msg, sig):
    s = int.from_bytes(sig[32:], "little")
    h = int.from_bytes(hashlib.sha512(sig[:32] + key + msg).digest(), "little") % L
    return s < L and same(times(s, BASE), add(decode(sig[:32]), times(h, decode(key))))


def note(text, verifier):
    """The text of a signed note, if the verifier's key signed it."""
    name, key_hash, key = verifier.split("+", 2)
    key = base64.b64decode(key, validate=True)
    if key[0] != 1 or hashlib.sha256(name.encode() + b"\n" + key).hexdigest()[:8] != key_hash:
        raise ValueError("the key cannot be read")
    body, _, sigs = text.rpartition("\n\n")
    body += "\n"
    for line in sigs.splitlines():
        dash, who, sig = line.split(" ")
        sig = base64.b64decode(sig, validate=True)
        if dash == "\u2014" and who == name and sig[:4].hex() == key_hash and signed_by(key[1:], body.encode(), sig[4:]):
            return body
    raise ValueError("not signed by the key")


def checkpoint(text, verifier):
    origin, size, root = note(text, verifier).split("\n")[:3]
    if not verifier.startswith(origin + "+"):
        raise ValueError("of another log")
    return int(size), base64.b64decode(root, validate=True)


def node(left, right):
    return hashlib.sha256(b"\1" + left + right).digest()


def included(index, size, leaf, proof, root):
    """RFC 9162, 2.1.3.2."""
    fn, sn, r = index, size - 1, leaf
    if not 0 <= index < size:
        return False
    for p in proof:
        if sn == 0:
            return False
        if fn & 1 or fn == sn:
            r = node(p, r)
            while not fn & 1 and fn:
                fn, sn = fn >> 1, sn >> 1
        else:
            r = node(r, p)
        fn, sn = fn >> 1, sn >> 1
    return sn == 0 and r == root


def main(path):
    archive = zipfile.ZipFile(path)
    bundle = json.loads(archive.read("evidence.json"))
    if bundle["format"] != "tabularis-evidence/1":
        raise ValueError("of another form")
    size, root = checkpoint(bundle["checkpoint"], bundle["key"])
    told = set()
    for e in bundle["events"]:
        leaf = hashlib.sha256(b"\0" + e["entry"].encode()).digest()
        if not included(e["index"], size, leaf, [base64.b64decode(h) for h in e["proof"]], root):
            raise ValueError("an event does not stand in the log")
        entry = json.loads(e["entry"])
        for field, o in e["opened"].items():
            if hashlib.sha256(base64.b64decode(o["salt"]) + o["value"].encode()).hexdigest() != entry["sealed"][field]:
                raise ValueError("a field is not what was sealed")
        data = json.loads(e["opened"].get("data", {"value": "{}"})["value"])
        told.add((entry.get("item"), entry.get("version"), data.get("sha256")))
    versions = 0
    for v in bundle["versions"]:
        versions += (v["document"], v["number"], v["sha256"]) in told
        if v.get("file") and hashlib.sha256(archive.read(v["file"])).hexdigest() != v["sha256"]:
            raise ValueError("a content is another one")
    print(f"{len(bundle['events'])} events, {versions} versions, checkpoint of {size}")


if __name__ == "__main__":
    main(sys.argv[1])
