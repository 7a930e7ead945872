import { Refusal, type Schemas } from '../api/client'

type Options = { publicKey: Record<string, unknown> }

/** Whether this browser knows passkeys. */
export const passkeys = typeof PublicKeyCredential !== 'undefined' && 'parseCreationOptionsFromJSON' in PublicKeyCredential

/** Closing the browser's own window is no failure: no passkey was given. */
const given = (asked: Promise<Credential | null>) =>
  asked.catch((e: unknown) => {
    throw e instanceof DOMException ? new Refusal({ type: '/problems/passkey-closed', title: 'passkey-closed', status: 0 }) : e
  })

/** Makes a passkey by the server's options (W3C Web Authentication, level 3, section 5.1.9). */
export async function makePasskey(options: Schemas['WebAuthn']): Promise<Schemas['WebAuthn']> {
  const publicKey = PublicKeyCredential.parseCreationOptionsFromJSON(
    (options as Options).publicKey as unknown as PublicKeyCredentialCreationOptionsJSON,
  )
  const made = (await given(navigator.credentials.create({ publicKey }))) as PublicKeyCredential
  return made.toJSON() as Schemas['WebAuthn']
}

/** Answers the server's question with a passkey. */
export async function answerPasskey(options: Schemas['WebAuthn']): Promise<Schemas['WebAuthn']> {
  const publicKey = PublicKeyCredential.parseRequestOptionsFromJSON(
    (options as Options).publicKey as unknown as PublicKeyCredentialRequestOptionsJSON,
  )
  const answer = (await given(navigator.credentials.get({ publicKey }))) as PublicKeyCredential
  return answer.toJSON() as Schemas['WebAuthn']
}
