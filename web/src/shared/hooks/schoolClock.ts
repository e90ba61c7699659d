import { client } from '../../api/gen/client.gen'
import { SchoolClock } from '../../practice/clock'

/** The page's own; every answer of the server corrects it. */
export const schoolClock = new SchoolClock()

client.interceptors.response.use((response) => {
  schoolClock.hear(response.headers.get('date'))
  return response
})
