import { ref } from 'vue'
import { client, unwrap, type Schemas } from '@/api/client'
import { useAttempt } from '@/shared/useAttempt'

type Person = Schemas['Person']
type Role = Person['role']

/** Everybody who works here, and what a lead does about them. */
export function usePeople() {
  const everybody = ref<Person[]>([])
  const link = ref<{ name: string; address: string } | null>(null)
  const { problem, busy, attempt } = useAttempt()

  function put(person: Person) {
    const at = everybody.value.findIndex((p) => p.id === person.id)
    if (at < 0) everybody.value.push(person)
    else everybody.value[at] = person
  }
  function show(answer: Schemas['PersonWithLink']) {
    put(answer.person)
    link.value = { name: answer.person.name, address: location.origin + answer.link }
  }
  const of = (person: Person) => ({ params: { path: { person_id: person.id } } })

  return {
    everybody,
    problem,
    link,
    busy,
    load: () =>
      attempt(async () => {
        everybody.value = await unwrap(client.GET('/api/people/'))
      }),
    add: (username: string, name: string, role: Role) =>
      attempt(async () =>
        show(await unwrap(client.POST('/api/people/', { body: { username, name, role } }))),
      ),
    sendLink: (person: Person) =>
      attempt(async () => show(await unwrap(client.POST('/api/people/{person_id}/link/', of(person))))),
    change: (person: Person, body: Schemas['PersonChangeRequest']) =>
      attempt(async () =>
        put(await unwrap(client.POST('/api/people/{person_id}/', { ...of(person), body }))),
      ),
    logOut: (person: Person) =>
      attempt(async () => put(await unwrap(client.DELETE('/api/people/{person_id}/sessions/', of(person))))),
  }
}
