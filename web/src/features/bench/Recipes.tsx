import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { App, Button, Input, Select } from 'antd'
import { useRef, useState } from 'react'
import { ask, said } from '../../api/ask'
import {
  fitRecipe,
  listRecipes,
  readRecipe,
  removeRecipe,
  restoreRecipe,
  saveRecipe,
  workOutDrill,
  writeRecipe,
  type BenchIn,
  type ChunkOut,
  type DrillOut,
  type PartDetail,
  type RecipeFile,
  type RecipeItemIo,
  type RecipeOut,
} from '../../api/gen'
import { keys } from '../../api/keys'
import { useSections } from '../../shared/hooks/part.queries'
import { climbOf, useAssignmentDraft } from '../../shared/hooks/assignmentDraft'
import type { LadderNumbers } from './Fields'
import { t } from '../../words/words'

const STAGES: Record<string, string> = { learn: t('bench.learn'), set: t('bench.set'), prove: t('bench.prove') }

interface Props {
  detail: PartDetail
  chunk: ChunkOut
  drills: DrillOut[]
  ladder: LadderNumbers
  player: NonNullable<BenchIn['player']>
}

/** Drills in the order learn, set, prove: taken for the chunk, saved from it, exchanged as files. */
export function Recipes({ detail, chunk, drills, ladder, player }: Props) {
  const { message } = App.useApp()
  const client = useQueryClient()
  const recipes = useQuery({ queryKey: keys.recipes, queryFn: () => ask(listRecipes()) })
  const draft = useAssignmentDraft(detail.part.id)
  const file = useRef<HTMLInputElement>(null)
  const put = (list: RecipeOut[]) => client.setQueryData(keys.recipes, list)
  const fail = (error: unknown) => void message.error(said(error))
  const remove = useMutation({
    mutationFn: (id: string) => ask(removeRecipe({ path: { recipe_id: id } })),
    onSuccess: (list, id) => {
      put(list)
      const key = `recipe ${id}`
      const bringBack = () => void ask(restoreRecipe({ path: { recipe_id: id } })).then(put, fail)
      void message.open({
        key,
        content: (
          <span>
            {t('bench.removedFromTheList')}{' '}
            <Button size="small" type="link" onClick={bringBack}>
              {t('bench.bringItBack')}
            </Button>
          </span>
        ),
      })
    },
    onError: fail,
  })
  const take = useMutation({
    mutationFn: async (recipe: RecipeOut) => {
      const fitted = await ask(
        fitRecipe({ path: { part_id: detail.part.id }, body: { chunk_id: chunk.id, player, items: recipe.items } }),
      )
      const worked = await Promise.all(
        fitted.items.map((item) =>
          ask(
            workOutDrill({
              path: { part_id: detail.part.id },
              body: {
                chunk_id: chunk.id,
                drill: item.drill,
                settings: item.settings ?? {},
                ladder: {
                  start_bpm: ladder.start,
                  goal_bpm: ladder.goal,
                  step_bpm: ladder.step,
                  minutes: ladder.minutes,
                  scale: ladder.scale,
                  way: ladder.way,
                },
                player,
                drawn: 1,
              },
            }),
          ),
        ),
      )
      return { fitted, worked }
    },
    onSuccess: ({ fitted, worked }) => {
      for (const made of worked) {
        draft.add({
          key: `${chunk.id} ${made.drill} ${JSON.stringify(made.settings)}`,
          chunkId: chunk.id,
          chunk: chunk.label,
          drill: made.drill,
          title: made.title,
          settings: made.settings,
          ...climbOf(made, ladder),
          climbSeconds: made.climb_seconds,
        })
      }
      void message.success(
        [t('bench.drillsAreReadyToAssignOn', { count: worked.length, label: chunk.label }), ...fitted.said].join(' '),
      )
    },
    onError: fail,
  })
  async function readFile(chosen: File) {
    try {
      const body = JSON.parse(await chosen.text()) as RecipeFile
      put(await ask(readRecipe({ body })))
      void message.success(t('bench.theRecipeIsOnYourList'))
    } catch (error) {
      fail(error instanceof SyntaxError ? new Error(t('bench.thisFileIsNotADrill')) : error)
    }
  }
  async function writeFile(recipe: RecipeOut) {
    if (!recipe.id) return
    const made = await ask(writeRecipe({ path: { recipe_id: recipe.id } }))
    const link = document.createElement('a')
    link.href = URL.createObjectURL(new Blob([JSON.stringify(made, null, 1)], { type: 'application/json' }))
    link.download = `${recipe.name.toLowerCase().replaceAll(/\W+/g, '-')}.json`
    link.click()
    URL.revokeObjectURL(link.href)
  }
  const titles = new Map(drills.map((d) => [d.name, d.title]))
  const mine = draft.items.filter((item) => item.chunkId === chunk.id)
  return (
    <section className="recipes" aria-labelledby="recipes-title">
      <div className="page-head">
        <h2 id="recipes-title">{t('bench.recipes')}</h2>
        <Button onClick={() => file.current?.click()}>{t('bench.readARecipeFromAFile')}</Button>
        <input
          ref={file}
          type="file"
          accept="application/json,.json"
          hidden
          aria-label={t('bench.recipeFile')}
          onChange={(event) => {
            const chosen = event.target.files?.[0]
            if (chosen) void readFile(chosen)
            event.target.value = ''
          }}
        />
      </div>
      {mine.length > 0 && (
        <SaveRecipe items={mine.map((item) => ({ drill: item.drill, settings: item.settings }))} done={put} />
      )}
      {recipes.isError && <p role="alert">{said(recipes.error)}</p>}
      <ul>
        {recipes.data?.map((recipe) => (
          <li key={recipe.id ?? recipe.name}>
            <div>
              <strong>{recipe.name}</strong> <span className="muted">{recipe.note}</span>
              <small>
                {recipe.items.map((item, i) => (
                  <span key={i}>
                    {STAGES[item.stage]}: {titles.get(item.drill) ?? item.drill}
                  </span>
                ))}
              </small>
            </div>
            <span className="row-actions">
              <Button
                size="small"
                loading={take.isPending && take.variables === recipe}
                onClick={() => take.mutate(recipe)}
                aria-label={t('bench.useOnOfNameLabel', { name: recipe.name, label: chunk.label })}
              >
                {t('bench.useOnOfLabel', { label: chunk.label })}
              </Button>
              {recipe.id && (
                <>
                  <Button
                    size="small"
                    type="text"
                    onClick={() => void writeFile(recipe)}
                    aria-label={t('bench.saveAsAFileOfName', { name: recipe.name })}
                  >
                    {t('bench.saveAsAFile')}
                  </Button>
                  <Button
                    size="small"
                    type="text"
                    onClick={() => remove.mutate(recipe.id ?? '')}
                    aria-label={t('bench.removeFromTheList', { name: recipe.name })}
                  >
                    {t('bench.remove')}
                  </Button>
                </>
              )}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}

interface SaveProps {
  items: { drill: string; settings: Record<string, number | string> }[]
  done: (list: RecipeOut[]) => void
}

/** What is in the draft for this chunk, kept as a recipe: the last proves, the first learn. */
function SaveRecipe({ items, done }: SaveProps) {
  const { message } = App.useApp()
  const sections = useSections()
  const [name, setName] = useState('')
  const [sectionId, setSectionId] = useState<string | null>(null)
  const staged: RecipeItemIo[] = items.map((item, i) => ({
    ...item,
    stage: i === items.length - 1 ? 'prove' : i < items.length / 2 ? 'learn' : 'set',
  }))
  const save = useMutation({
    mutationFn: () => ask(saveRecipe({ body: { name, items: staged, section_id: sectionId } })),
    onSuccess: (list) => {
      done(list)
      setName('')
      void message.success(t('bench.isSaved', { name }))
    },
    onError: (error) => void message.error(said(error)),
  })
  return (
    <form
      className="save-recipe"
      onSubmit={(event) => {
        event.preventDefault()
        save.mutate()
      }}
    >
      <Input
        aria-label={t('bench.nameOfTheRecipe')}
        placeholder={t('bench.nameForTheseDrills', { itemsCount: items.length })}
        value={name}
        maxLength={60}
        onChange={(event) => setName(event.target.value)}
      />
      <Select
        aria-label={t('bench.forWhom')}
        value={sectionId ?? ''}
        onChange={(id: string) => setSectionId(id || null)}
        options={[
          { value: '', label: t('bench.forEverybody') },
          ...(sections.data ?? []).map((s) => ({ value: s.id, label: t('bench.for', { name: s.name }) })),
        ]}
      />
      <Button htmlType="submit" disabled={name.trim() === ''} loading={save.isPending}>
        {t('bench.saveAsARecipe')}
      </Button>
    </form>
  )
}
