import { Alert, Button } from 'antd'
import type { Me } from '../../api/gen'
import type { Refused } from '../../practice/outbox'
import { useSyncQueue } from '../hooks/useSyncQueue'
import { t } from '../../words/words'

interface Props {
  me: Me
  /** Said, too, where everything is handed in: how much of the day is on the device. */
  day?: { kept: number; of: number }
  /** Send what was refused to the teacher. */
  tell?: (refused: Refused) => void
}

/** In plain words: what is saved where. */
export function SyncStatus({ me, day, tell }: Props) {
  const { queue, unsent, refused, isMemoryOnly, sent } = useSyncQueue(me)
  function tellAll(to: (refused: Refused) => void) {
    // Told once: they are the teacher's to look at from here on.
    refused.forEach(to)
    void queue.forgetRefused()
  }
  return (
    <>
      {isMemoryOnly && (
        <Alert
          type="warning"
          showIcon
          role="alert"
          title={t('shared.thisDeviceHasNoRoomLeft')}
          description={t('shared.leaveThisPageOpenUntilIt')}
        />
      )}
      {unsent > 0 && sent === 'signed out' && (
        <p className="unsent" role="status">
          {t('shared.savedOnThisDeviceNotHandedOfUnsentName', { unsent, name: me.name })}
        </p>
      )}
      {unsent > 0 && sent !== 'signed out' && (
        <p className="unsent" role="status">
          {t('shared.savedOnThisDeviceNotHandedOfUnsent', { unsent })}
        </p>
      )}
      {unsent === 0 && day && (
        <p className="muted kept-note">
          {t('shared.everythingYouCountedIsHandedIn', {
            device:
              day.kept >= day.of
                ? t('shared.yourDayIsAlsoSavedOn')
                : t('shared.yourDayIsBeingSavedOn', { kept: day.kept, of: day.of }),
          })}
        </p>
      )}
      {refused.length > 0 && (
        <Alert
          type="warning"
          showIcon
          role="alert"
          title={t('shared.theServerRefusedOfYourEntries', { count: refused.length })}
          description={
            <>
              <p>{refused.at(-1)?.said ?? ''}</p>
              {tell && (
                <Button size="small" onClick={() => tellAll(tell)}>
                  {t('shared.sendItToMyTeacher')}
                </Button>
              )}
            </>
          }
          closable={{ onClose: () => void queue.forgetRefused() }}
        />
      )}
    </>
  )
}
