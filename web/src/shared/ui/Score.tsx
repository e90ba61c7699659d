import { forwardRef, memo } from 'react'

interface Props {
  svg: string
  label: string
  className?: string
}

/** Engraved notation at the width it is given. Our own server drew it; it holds no script. */
export const Score = memo(
  forwardRef<HTMLDivElement, Props>(function Score({ svg, label, className = '' }, ref) {
    return (
      <div
        ref={ref}
        className={`score ${className}`}
        role="img"
        aria-label={label}
        dangerouslySetInnerHTML={{ __html: svg }}
      />
    )
  }),
)
